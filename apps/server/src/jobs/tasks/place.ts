import { parseMounting } from '@longheron/core/frames';
import { type ReturnLimits } from '@longheron/core/laser';
import { part, type Notice, type Watch } from '@longheron/core/shared';
import { parseSystem } from '@longheron/formats/crs';
import { placeReturns } from '@longheron/operations/place';
import { storeCloud, type DensityContent } from './cloudStore';
import { Shelf } from './shelf';
import { type TaskRequest, type TaskResult } from './types';

export async function place(r: TaskRequest, watch: Watch): Promise<TaskResult> {
  const p = r.payload as {
    trajectory: string;
    returns: string[];
    mounting: unknown;
    mountName: string;
    crs: string;
    names: Record<string, string>;
    minLengthM: number;
    turnDegPerS: number;
    targetPerM2: number;
    limits: ReturnLimits;
  };
  const shelf = new Shelf(r.storeFolder);
  let outcome!: Awaited<ReturnType<typeof placeReturns>>;
  const las = await shelf.file(async (path) => {
    outcome = await placeReturns(
      {
        trajectoryPath: p.trajectory,
        returnsPaths: p.returns,
        mountPath: '',
        mounting: parseMounting(p.mounting, p.mountName),
        system: parseSystem(p.crs),
        outPath: path,
        names: p.names,
        hashInputs: false,
        strips: { minLengthM: p.minLengthM, turnDegPerS: p.turnDegPerS, minSpeedMps: 1 },
        limits: p.limits,
      },
      part(watch, 0, 0.5),
    );
  }, 'las');
  const stored = await storeCloud(shelf, r.storeFolder, las.sha256, part(watch, 0.5, 1), p.targetPerM2);
  const report = outcome.report;
  return {
    content: {
      las: las.sha256,
      bytes: las.bytes,
      ...stored,
      figures: { ...report, inputs: undefined },
      crs: p.crs,
    },
    contentHash: las.sha256,
    objects: shelf.objects,
    notices: [...report.notices, ...densityNotices(stored.density)],
    log: [`${report.points_out} points placed in ${report.seconds} s.`],
  };
}

function densityNotices(density: DensityContent | null): Notice[] {
  if (!density || density.belowShare < 0.5) return [];
  return [
    {
      code: 'density',
      severity: 'info',
      text: `${Math.round(100 * density.belowShare)} % of the square metres with points hold fewer than ${density.targetPerM2}.`,
      effect: 'Small things and steep edges may be missed there.',
      remedy: 'See the density in plan; far from the path it is always thinner.',
    },
  ];
}
