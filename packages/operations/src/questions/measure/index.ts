import { open } from 'node:fs/promises';
import { surfaceHeightAtMark, SEARCH_RADIUS_M } from '@longheron/core/accuracy';
import { ORDER_BYTES, POSITION_BYTES, positionsOf } from '@longheron/core/cloud';
import {
  measureAngle,
  measureArea,
  measureDistance,
  measureToPlane,
  type MeasuredPoint,
} from '@longheron/core/measure';
import { Problem } from '@longheron/core/shared';
import { decodeExtra, LasFile } from '@longheron/formats/las';
import { type MeasuredDto } from '@longheron/contract/api';
import { type MeasureKind } from '@longheron/contract/requests';
import { question } from '../../computation/question';
import { systemOfHeader } from '../../shared/cloud';
import { type Store } from '../../shared/store';
import { cloudOf, pointsNear, type EditableCloud, type EditedCloud } from '../../shared/stored';

interface Point extends MeasuredPoint {
  /** Whether the file states its deviations. */
  stated: boolean;
}

interface Asked {
  cloud: EditedCloud;
  kind: MeasureKind;
  rows: number[];
  radiusM: number;
}

type Measured = Pick<MeasuredDto, 'kind' | 'values' | 'stated' | 'points'>;

/** Something measured between points of a cloud, with its precision. */
export default question<Asked, Measured>(async (p, store) => {
  const cloud = await cloudOf(store, p.cloud);
  const points = await pointsOf(store, p.cloud, cloud, p.rows);
  const values = await valuesOf(p.kind, points, cloud, p.radiusM);
  const content = {
    kind: p.kind,
    values,
    stated: points.every((x) => x.stated),
    points: points.map(({ eastingM, northingM, heightM }) => ({ eastingM, northingM, heightM })),
  };
  return { content };
});

async function valuesOf(
  kind: MeasureKind,
  points: Point[],
  cloud: EditableCloud,
  radiusM: number,
): Promise<MeasuredDto['values']> {
  const [a, b, c] = points;
  const about = (p: Point) => [p.eastingM, p.northingM, p.heightM].map((v, k) => v - cloud.origin[k]);
  const place = (p: Point) => about(p) as [number, number, number];
  if (kind === 'distance') return { ...measureDistance(a, b) };
  if (kind === 'angle') return { ...measureAngle(a, b, c) };
  if (kind === 'area') return { ...measureArea(points) };
  if (kind === 'above') {
    const [x, y] = place(a);
    const near = await pointsNear(cloud, place(a), SEARCH_RADIUS_M, true, true);
    const column = (k: number, from: number) => Float64Array.from(near, (p) => p[k] - from);
    const ground = surfaceHeightAtMark({ dx: column(0, x), dy: column(1, y), z: column(2, 0) });
    if (ground.method === 'none')
      throw new Problem(`No ground was found below: ${ground.reason ?? 'too few points'}.`, {
        code: 'measure-ground',
        remedy: 'Find the ground first, or choose a point that stands over ground.',
      });
    const groundM = ground.heightM + cloud.origin[2];
    return {
      aboveM: a.heightM - groundM,
      groundM,
      sdM: Math.hypot(a.sdHM, ground.sdM),
      method: ground.method,
      groundPoints: ground.points,
    };
  }
  const plane = await pointsNear(cloud, place(a), radiusM, false);
  const [e0, n0, h0] = cloud.origin;
  const local = { ...b, eastingM: b.eastingM - e0, northingM: b.northingM - n0, heightM: b.heightM - h0 };
  const found = measureToPlane(local, plane);
  if (typeof found === 'string')
    throw new Problem(`No plane at the first point: ${found}.`, {
      code: 'measure-plane',
      remedy: 'Choose a point in the middle of a smooth surface, or a larger radius.',
    });
  return { ...found, radiusM };
}

/** Points by their rows in the store, with the deviations that the file states. */
async function pointsOf(store: Store, c: EditedCloud, cloud: EditableCloud, rows: number[]): Promise<Point[]> {
  const [position, order] = await Promise.all([open(cloud.paths.position, 'r'), open(store.path(c.order), 'r')]);
  const file = await LasFile.openPath(store.path(c.las));
  try {
    const { header } = file;
    const system = systemOfHeader(header, file.source.name, [])?.definition;
    const units = [system?.metresPerUnit ?? 1, system?.metresPerUnit ?? 1, system?.verticalMetresPerUnit ?? 1];
    const dimensions = file.extraDimensions();
    const wanted = ['sd_e', 'sd_n', 'sd_h'].map((name) => dimensions.find((d) => d.name === name));
    const out: Point[] = [];
    for (const row of rows) {
      if (row >= cloud.count)
        throw new Problem(`The cloud has no point ${row}.`, {
          code: 'measure-point',
          remedy: 'Choose the points again.',
        });
      const raw = Buffer.alloc(POSITION_BYTES);
      await position.read(raw, 0, POSITION_BYTES, POSITION_BYTES * row);
      const [eastingM, northingM, heightM] = Array.from(
        positionsOf(raw.buffer, raw.byteOffset, 1),
        (steps, k) => steps * cloud.scale + cloud.origin[k],
      );
      let sd = [0, 0, 0];
      const stated = !header.compressed && wanted.every((d) => d);
      if (stated) {
        const at = Buffer.alloc(ORDER_BYTES);
        await order.read(at, 0, ORDER_BYTES, ORDER_BYTES * row);
        const from = header.pointOffset + at.readUInt32LE(0) * header.pointBytes;
        const bytes = await file.source.read(from, header.pointBytes);
        const value = new Float32Array(1);
        sd = wanted.map((d, k) => {
          decodeExtra(header, bytes, 1, d!, value, 0);
          return value[0] * units[k];
        });
      }
      out.push({ eastingM, northingM, heightM, sdEM: sd[0], sdNM: sd[1], sdHM: sd[2], stated });
    }
    return out;
  } finally {
    await Promise.all([position.close(), order.close(), file.close()]);
  }
}
