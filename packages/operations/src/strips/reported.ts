import { type AdjustmentFigures } from '@longheron/contract/kinds/adjustment';
import { boresightSds, type Mounting } from '@longheron/core/frames';

/** What of a head is reported: its mounting as calibrated, and deviations by parameter, degrees and metres. */
function headOf(name: string, mounting: Mounting, { parameters }: AdjustmentFigures) {
  const s = mounting.sensors[name];
  const own = parameters.filter((p) => p.head === name);
  const length = (key: string) => own.find((p) => p.name === key)!.sd;
  const { roll, pitch, heading } = boresightSds(s);
  return {
    sensor: name,
    boresight_deg: s.boresightDeg,
    lever_arm_m: s.leverArmM,
    range_offset_m: s.rangeOffsetM ?? 0,
    sd: {
      roll,
      pitch,
      heading,
      lever_x_m: length('lever x'),
      lever_y_m: length('lever y'),
      lever_z_m: length('lever z'),
      range_m: length('range'),
    },
    solved: own.filter((p) => p.solved).map((p) => p.name.replace(' ', '_')),
  };
}

/** Figures as the command reports them: the first head as `mount`, all of them as `heads`. */
export function reported(figures: AdjustmentFigures, mounting: Mounting, sensors: readonly string[]) {
  const { overlaps, ...rest } = figures;
  const heads = sensors.map((name) => headOf(name, mounting, figures));
  return {
    mount: heads[0],
    heads,
    ...rest,
    overlaps: overlaps.map(({ first, second, ...p }) => ({
      first: first.strip,
      first_head: first.head,
      second: second.strip,
      second_head: second.head,
      ...p,
    })),
  };
}
