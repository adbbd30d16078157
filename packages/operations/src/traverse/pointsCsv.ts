import { type TraverseFigures } from '@longheron/contract/kinds/parts/traverse';
import { type Mark } from '@longheron/core/accuracy';
import { csvCell } from '@longheron/formats/csv';

/** Adjusted points in the layout of marks, with how well each is checked and what it is. */
export function pointsCsv({ points }: TraverseFigures, marks: readonly Mark[], crs: string): string {
  const lines = [`# crs: ${crs}`, 'name,role,easting_m,northing_m,height_m,sd_e_m,sd_n_m,sd_h_m,note,redundancy,kind'];
  for (const p of points) {
    const role = marks.find((m) => m.name === p.name)?.role ?? 'unused';
    const numbers = [p.easting_m, p.northing_m, p.height_m].map((v) => v.toFixed(4));
    const sd = [p.sd_e_m, p.sd_n_m, p.sd_h_m].map((v) => v.toFixed(5));
    lines.push(
      [csvCell(p.name), role, ...numbers, ...sd, csvCell(p.code ?? ''), p.redundancy.toFixed(3), p.kind].join(','),
    );
  }
  return `${lines.join('\n')}\n`;
}
