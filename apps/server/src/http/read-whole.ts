/** All of a body, or as much of it as shows that it is too large. */
export async function readWhole(stream: ReadableStream<Uint8Array> | null, limitBytes: number): Promise<Buffer> {
  const pieces: Uint8Array[] = [];
  let size = 0;
  if (stream)
    for await (const piece of stream as unknown as AsyncIterable<Uint8Array>) {
      pieces.push(piece);
      size += piece.length;
      if (size > limitBytes) break;
    }
  return Buffer.concat(pieces);
}
