/** The next free name of a prefix and a number: t1, t2, … after the highest that is there. */
export function nextName(prefix: string, names: Iterable<string>): string {
  let most = 0;
  let digits = 1;
  for (const name of names) {
    if (!name.startsWith(prefix)) continue;
    const rest = name.slice(prefix.length);
    if (!/^\d+$/.test(rest)) continue;
    most = Math.max(most, Number(rest));
    digits = Math.max(digits, rest.length);
  }
  return `${prefix}${String(most + 1).padStart(digits, '0')}`;
}
