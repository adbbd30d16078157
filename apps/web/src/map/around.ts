/** West, south, east, north about places of the plan, with a margin; undefined without any. Metres. */
export function aroundPlaces(
  places: ReadonlyArray<readonly [number, number, ...number[]]>,
  marginM: number,
): [number, number, number, number] | undefined {
  if (!places.length) return undefined;
  const out: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y] of places) {
    out[0] = Math.min(out[0], x - marginM);
    out[1] = Math.min(out[1], y - marginM);
    out[2] = Math.max(out[2], x + marginM);
    out[3] = Math.max(out[3], y + marginM);
  }
  return out;
}
