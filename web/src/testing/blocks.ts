/** A block of traces as the server sends it. */
export function traceBlock(columns: Record<string, number[]>): ArrayBuffer {
  const names = Object.keys(columns);
  const n = columns[names[0]!]!.length;
  let header = JSON.stringify({ n, columns: names });
  header += " ".repeat((4 - (header.length % 4)) % 4);
  const buffer = new ArrayBuffer(8 + header.length + 4 * n * names.length);
  new Uint8Array(buffer).set(new TextEncoder().encode("FAT1"));
  new DataView(buffer).setUint32(4, header.length, true);
  new Uint8Array(buffer, 8).set(new TextEncoder().encode(header));
  names.forEach((name, k) => new Float32Array(buffer, 8 + header.length + 4 * n * k, n).set(columns[name]!));
  return buffer;
}
