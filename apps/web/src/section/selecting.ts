import { SD_STEP_M, heightAbove, type PointFilter, type Selection, type SelectionShape } from '@longheron/core/cloud';
import { type CloudIndex } from '@longheron/contract/api';
import { type GroundUnder } from '../stores/cloudLook';
import { selectorOf } from '../views3d/cloudEdits';
import { type Colouring } from '../views3d/colouring';
import { REJECTED_BIT, SELECTED_BIT } from '../views3d/selecting';
import { lengthOf, type SectionLine, type Slice } from './cut';
import { alongAt, heightAt, type Frame } from './draw';

/** What was drawn over a section as a shape in metres. @param brushPx half the width of the brush; 0 for an outline. */
export function shapeInSection(path: number[], f: Frame, line: SectionLine, brushPx: number): SelectionShape {
  const metres = path.map((v, i) => (i % 2 ? heightAt(f, v) : alongAt(f, v)));
  const plain = { from: [...line.from], to: [...line.to], widthM: line.widthM } as SectionLine;
  if (!brushPx) return { kind: 'section', line: plain, polygon: metres };
  return {
    kind: 'brush',
    line: plain,
    path: metres,
    alongM: (brushPx * f.lengthM) / f.width,
    heightM: (brushPx * (f.highM - f.lowM)) / f.height,
  };
}

/** What of a cloud's index a slice needs to tell times and places. */
type SliceIndex = Pick<CloudIndex, 'origin' | 'timeOrigin' | 'timeStepS'>;

/** Calls with each point of a slice and its place about the cloud's origin. */
function eachPlace(
  slice: Slice,
  line: SectionLine,
  origin: readonly number[],
  f: (i: number, x: number, y: number, z: number) => void,
): void {
  const length = lengthOf(line) || 1e-9;
  const [ux, uy] = [(line.to[0] - line.from[0]) / length, (line.to[1] - line.from[1]) / length];
  const [x0, y0] = [line.from[0] - origin[0], line.from[1] - origin[1]];
  for (let i = 0; i < slice.count; i++) {
    const [a, b] = [slice.alongM[i], slice.acrossM[i]];
    f(i, x0 + a * ux - b * uy, y0 + a * uy + b * ux, slice.heightM[i] - origin[2]);
  }
}

const passesAttributes = (filter: PointFilter, s: Slice, i: number, index: SliceIndex) =>
  !filter.needsAttributes ||
  filter.passesAttributes(
    index.timeOrigin + s.timeSteps[i] * index.timeStepS,
    ...([s.strip[i], s.intensity[i], s.echo[i], s.echoes[i]] as const),
    s.sdH[i] * SD_STEP_M,
  );

/** 1 for the points of a slice that a filter hides; undefined when it hides none by more than class and rejection. */
export function hiddenOf(
  slice: Slice,
  line: SectionLine,
  filter: PointFilter,
  index: SliceIndex,
): Uint8Array | undefined {
  if (!filter.needsAttributes && !filter.needsPlace) return undefined;
  const out = new Uint8Array(slice.count);
  eachPlace(slice, line, index.origin, (i, x, y, z) => {
    if (!passesAttributes(filter, slice, i, index) || !filter.passesPlace(x, y, z)) out[i] = 1;
  });
  return out;
}

/** Values of a colouring with a scale, in the unit of its limits; undefined for those without one. */
export function valuesOf(
  slice: Slice,
  line: SectionLine,
  colouring: Colouring,
  index: SliceIndex,
  ground: GroundUnder | undefined,
): ArrayLike<number> | undefined {
  if (colouring === 'height') return slice.heightM;
  if (colouring === 'intensity') return slice.intensity;
  if (colouring === 'precision') return Float32Array.from(slice.sdH, (v) => v * SD_STEP_M);
  if (colouring === 'time') return Float32Array.from(slice.timeSteps, (v) => v * index.timeStepS);
  if (colouring !== 'above' || !ground) return undefined;
  const out = new Float32Array(slice.count);
  eachPlace(slice, line, index.origin, (i, x, y, z) => (out[i] = heightAbove(ground, x, y, z)));
  return out;
}

/** Marks the points of a slice that a selection holds. */
export async function markSlice(
  slice: Slice,
  line: SectionLine | null,
  selection: Selection | null,
  index: SliceIndex | undefined,
): Promise<void> {
  const selector = selection && line && index ? await selectorOf(selection, index.origin) : undefined;
  for (let i = 0; i < slice.count; i++) slice.flags[i] &= ~SELECTED_BIT;
  if (!selector || !line || !index) return;
  eachPlace(slice, line, index.origin, (i, x, y, z) => {
    if (
      selector.passes(slice.cls[i], (slice.flags[i] & REJECTED_BIT) === REJECTED_BIT) &&
      passesAttributes(selector, slice, i, index) &&
      selector.has(x, y, z, slice.row[i])
    )
      slice.flags[i] |= SELECTED_BIT;
  });
}
