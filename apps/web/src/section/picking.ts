import { type CloudIndex } from '@longheron/contract/api';
import { SD_STEP_M, REJECTED } from '@longheron/core/cloud';
import { type Picked } from '../views3d/picking';
import { lengthOf, type SectionLine, type Slice } from './cut';
import { xOf, yOf, type Frame } from './draw';

const REACH_PX = 7;

/** What of a slice is drawn: classes that are hidden, what is done with rejected points, 1 for what a filter hides. */
export interface Drawn {
  hidden: ReadonlySet<number>;
  rejected: 'hidden' | 'shown' | 'only';
  filtered: Uint8Array | undefined;
}

/** The drawn point of a slice nearest to a place in its picture, within a few pixels; -1 where there is none. */
export function pickInSlice(slice: Slice, f: Frame, x: number, y: number, drawn: Drawn): number {
  let best = -1;
  let least = REACH_PX ** 2;
  for (let i = 0; i < slice.count; i++) {
    const dx = xOf(f, slice.alongM[i]) - x;
    if (dx > REACH_PX || dx < -REACH_PX) continue;
    const dy = yOf(f, slice.heightM[i]) - y;
    const off = dx * dx + dy * dy;
    if (off > least || drawn.hidden.has(slice.cls[i]) || drawn.filtered?.[i]) continue;
    if (drawn.rejected !== 'shown' && (drawn.rejected === 'only') !== ((slice.flags[i] & REJECTED) !== 0)) continue;
    [best, least] = [i, off];
  }
  return best;
}

/** A point of a slice as the other views know it. */
export function pickedOf(slice: Slice, i: number, line: SectionLine, index: CloudIndex): Picked {
  const length = lengthOf(line) || 1e-9;
  const [ux, uy] = [(line.to[0] - line.from[0]) / length, (line.to[1] - line.from[1]) / length];
  const [along, across] = [slice.alongM[i], slice.acrossM[i]];
  return {
    row: slice.row[i],
    eastingM: line.from[0] + ux * along - uy * across,
    northingM: line.from[1] + uy * along + ux * across,
    heightM: slice.heightM[i],
    cls: slice.cls[i],
    intensity: slice.intensity[i],
    strip: slice.strip[i],
    echo: slice.echo[i],
    echoes: slice.echoes[i],
    gpsS: slice.timeSteps[i] * index.timeStepS + index.timeOrigin,
    sdHM: slice.sdH[i] * SD_STEP_M,
  };
}
