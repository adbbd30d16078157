import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { readMarks } from '@longheron/formats/marks';
import { adjustRecordings, localSd } from '@longheron/operations/network';
import { type Command } from './command';

const mm = (m: number) => (1000 * m).toFixed(1);
const HELD_PLAN_SD_M = 0.002;
const HELD_HEIGHT_SD_M = 0.004;

/** Static vectors between recordings at rest, adjusted as a network. */
export const network: Command = {
  options: {
    ...{ recordings: 'string', nav: 'string', sp3: 'string', antex: 'string', hold: 'string', crs: 'string' },
    ...{ 'hold-sd': 'string', 'hold-height-sd': 'string', measured: 'string', marks: 'string', mask: 'string' },
    ...{ shortest: 'string', out: 'string' },
  },
  async run(o, watch) {
    const listed = (name: string) => (o.text(name) === undefined ? [] : o.list(name));
    const recordings = o.list('recordings');
    const [orbitPaths, antennaPaths] = [listed('sp3'), listed('antex')];
    const navPaths = orbitPaths.length ? listed('nav') : o.list('nav');
    const measured = o.text('measured');
    const marks = o.text('marks');
    const plan = o.number('hold-sd', 0, 10) ?? HELD_PLAN_SD_M;
    const height = o.number('hold-height-sd', 0, 10) ?? HELD_HEIGHT_SD_M;
    const inputs = [
      ...recordings,
      ...navPaths,
      ...orbitPaths,
      ...antennaPaths,
      ...listed('measured'),
      ...listed('marks'),
    ];
    o.must('out');
    const {
      report,
      vectors,
      adjustment,
      loops,
      marks: found,
    } = await adjustRecordings(
      {
        ...{ recordings: recordings.map((p) => ({ paths: [p] })), navPaths, orbitPaths, antennaPaths },
        held: o.list('hold').map((name) => ({ name, sdM: [plan, plan, height] })),
        measurementsPath: measured,
        marks: marks ? readMarks(await readFile(marks), basename(marks)).marks : undefined,
        crs: o.must('crs'),
        settings: { maskDeg: o.number('mask', 0, 60) ?? 10 },
        leastS: o.number('shortest', 10, 1e6),
        outPath: o.output('out', inputs)!,
      },
      watch,
    );
    const lines = [
      ...vectors.map((v) => {
        const [x, y, z] = v.observation.deltaM as number[];
        const km = (Math.hypot(x, y, z) / 1000).toFixed(2);
        const sd = localSd(adjustment.points.find((p) => p.name === v.to)!.xyzM, v.observation.covariance);
        return `${v.from} to ${v.to}: ${v.mean.solution}, ${v.mean.used} of ${v.mean.epochs} epochs, ${km} km, 1 SD ${sd.map(mm).join(', ')} mm (N, E, D)`;
      }),
      ...loops.map(
        (l) =>
          `Loop ${l.names.join(' – ')}: ${l.misclosureM.map(mm).join(', ')} mm left over (N, E, D) in ${(l.lengthM / 1000).toFixed(2)} km`,
      ),
      `${adjustment.freedom} observations beyond those needed; variance factor ${adjustment.varianceFactor.toFixed(2)}, expected ${adjustment.expected.map((v) => v.toFixed(2)).join(' to ')}.`,
      ...found.map((m) => {
        const p = adjustment.points.find((q) => q.name === m.name)!;
        return `${m.name}: E ${m.eastingM.toFixed(4)} N ${m.northingM.toFixed(4)} H ${m.heightM.toFixed(4)}, 1 SD ${mm(m.sdEM!)}, ${mm(m.sdNM!)}, ${mm(m.sdHM!)} mm${p.checked ? '' : '; unchecked'}`;
      }),
    ];
    return { report, lines };
  },
};
