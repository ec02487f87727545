/** The page with the picture of the imports below `root` between its marks. */
export function withPicture(page: string, root: string): string;
