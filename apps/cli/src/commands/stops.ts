import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { readMarks } from '@longheron/formats/marks';
import { marksFromStops } from '@longheron/operations/stops';
import { type Command } from './command';

const mm = (m: number) => `${(1000 * m).toFixed(1)} mm`;

export const stops: Command = {
  options: {
    ...{ trajectory: 'string', occupations: 'string', crs: 'string', 'antenna-height': 'string', out: 'string' },
    ...{ shortest: 'string', marks: 'string' },
  },
  async run(o) {
    const trajectory = o.must('trajectory');
    const occupations = o.text('occupations');
    const known = o.text('marks');
    const inputs = [trajectory, ...(occupations ? [occupations] : []), ...(known ? [known] : [])];
    o.must('out');
    const shortestS = o.number('shortest', 2, 36000);
    const antennaHeightM = o.number('antenna-height', 0, 50);
    const { report, marks } = await marksFromStops({
      trajectoryPath: trajectory,
      occupationsPath: occupations,
      crs: o.must('crs'),
      settings: {
        ...(shortestS === undefined ? {} : { shortestS }),
        ...(antennaHeightM === undefined ? {} : { antennaHeightM }),
      },
      known: known ? readMarks(await readFile(known), basename(known)).marks : undefined,
      outPath: o.output('out', inputs)!,
    });
    const lines = [
      ...marks.map(({ mark, stop, near }) => {
        const off = near ? `, off ${near.name} by ${near.differenceM.map((d) => mm(d)).join(', ')} (E, N, H)` : '';
        return `${mark.name}: ${stop.solution}, ${stop.used} of ${stop.epochs} epochs, E ${mark.eastingM.toFixed(4)} N ${mark.northingM.toFixed(4)} H ${mark.heightM.toFixed(4)}, 1 SD ${mm(mark.sdEM!)}, ${mm(mark.sdNM!)}, ${mm(mark.sdHM!)}${off}`;
      }),
    ];
    return { report, lines };
  },
};
