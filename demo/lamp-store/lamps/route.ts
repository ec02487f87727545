/** All lamps of the canal. */
export async function GET(): Promise<Response> {
  return Response.json([{ lampId: 7, lock: 'elm' }]);
}
