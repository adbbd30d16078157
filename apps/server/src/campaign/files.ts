import { type Random } from '@longheron/core/numeric';

/** A list of marks that nobody has yet. */
export function marksFile(random: Random, name: string): Buffer {
  const rows = Array.from({ length: 40 }, (_, k) => {
    const [e, n] = [random.between(467_000, 467_900), random.between(6_215_000, 6_215_900)];
    return `${name}${k},check,${e.toFixed(3)},${n.toFixed(3)},${random.between(2, 9).toFixed(3)}\n`;
  });
  return Buffer.from(`name,role,easting_m,northing_m,height_m\n${rows.join('')}`);
}

/** A text of points, which is prepared as a cloud by a second job. */
export function cloudFile(random: Random, points = 4000): Buffer {
  const rows = Array.from({ length: points }, () => {
    const [e, n] = [random.between(467_000, 467_100), random.between(6_215_000, 6_215_100)];
    return `${e.toFixed(3)} ${n.toFixed(3)} ${random.between(2, 9).toFixed(3)}\n`;
  });
  return Buffer.from(rows.join(''));
}
