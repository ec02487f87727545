/** How much oil there is. */
export const GET = (): Response => Response.json({ litres: 40 });
