import { type Selection, type SelectionShape } from '@longheron/core/cloud';
import { selectorOf } from '../views3d/cloudEdits';
import { REJECTED_BIT, SELECTED_BIT } from '../views3d/selecting';
import { lengthOf, type SectionLine, type Slice } from './cut';
import { alongAt, heightAt, type Frame } from './draw';

/** What was drawn over a section as a shape in metres. @param brushPx half the width of the brush; 0 for an outline. */
export function shapeInSection(path: number[], f: Frame, line: SectionLine, brushPx: number): SelectionShape {
  const metres = path.map((v, i) => (i % 2 ? heightAt(f, v) : alongAt(f, v)));
  const plain = { from: [...line.from], to: [...line.to], widthM: line.widthM } as SectionLine;
  if (!brushPx) return { kind: 'section', line: plain, polygon: metres };
  return {
    ...{ kind: 'brush', line: plain, path: metres },
    ...{ alongM: (brushPx * f.lengthM) / f.width, heightM: (brushPx * (f.highM - f.lowM)) / f.height },
  };
}

/** Marks the points of a slice that a selection holds. Time, strip and intensity beyond the slice are not looked at. */
export async function markSlice(
  slice: Slice,
  line: SectionLine | null,
  selection: Selection | null,
  origin: readonly number[] | undefined,
): Promise<void> {
  const selector = selection && line && origin ? await selectorOf(selection, origin) : undefined;
  for (let i = 0; i < slice.count; i++) slice.flags[i] &= ~SELECTED_BIT;
  if (!selector || !line || !origin) return;
  const length = lengthOf(line) || 1e-9;
  const [ux, uy] = [(line.to[0] - line.from[0]) / length, (line.to[1] - line.from[1]) / length];
  const [x0, y0] = [line.from[0] - origin[0], line.from[1] - origin[1]];
  for (let i = 0; i < slice.count; i++) {
    const [a, b] = [slice.alongM[i], slice.acrossM[i]];
    if (
      selector.passes(slice.cls[i], (slice.flags[i] & REJECTED_BIT) === REJECTED_BIT) &&
      selector.has(x0 + a * ux - b * uy, y0 + a * uy + b * ux, slice.heightM[i] - origin[2], slice.row[i])
    )
      slice.flags[i] |= SELECTED_BIT;
  }
}
