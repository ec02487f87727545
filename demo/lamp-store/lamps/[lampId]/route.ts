/** One lamp. */
export async function GET(_: Request, { params }: { params: { lampId: string } }): Promise<Response> {
  return Response.json({ lampId: Number(params.lampId), lock: 'elm' });
}
