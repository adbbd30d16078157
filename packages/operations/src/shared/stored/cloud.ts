import { readFile } from 'node:fs/promises';
import { applyEdits, attributesOf, LAS_CLASS, positionsOf, type CloudEdit, type PointSet } from '@longheron/core/cloud';

/** A cloud as it is stored (docs/formats/cloud-store.md), with what was done to it since. */
export interface EditableCloud {
  count: number;
  /** Easting, northing, height of its zero, metres; positions are whole numbers of `scale`. */
  origin: readonly number[];
  scale: number;
  rootM: number;
  /** Six numbers a node: level, x, y, z, first point, count. */
  nodes: readonly number[];
  timeOrigin: number;
  timeStepS: number;
  paths: { position: string; attributes: string; classes: string };
  edits: CloudEdit[];
}

/** Classes and flags of all points in the order of the store, and where an act decided on the rejection. */
export async function columnsOf(
  cloud: Pick<EditableCloud, 'paths' | 'edits'>,
): Promise<{ classes: Uint8Array; flags: Uint8Array; decided: Uint8Array }> {
  const classes = new Uint8Array(await readFile(cloud.paths.classes));
  const flags = new Uint8Array(classes.length);
  const decided = new Uint8Array(classes.length);
  applyEdits(cloud.edits, 0, classes, flags, decided);
  return { classes, flags, decided };
}

/** All points of a stored cloud in memory, in its order. */
export interface StoredPoints {
  /** Metres about the cloud's origin. */
  set: PointSet;
  /** Places in steps of the store, three a point. */
  xyz: Int32Array;
  classes: Uint8Array;
  /** 1 for what is rejected or noise. */
  skip: Uint8Array;
  strip: Uint16Array;
  /** Steps of time from the cloud's zero. */
  time: Uint32Array;
  /** 1 SD of height, metres; 0 where nothing is stated. */
  sdM: Float32Array;
}

/** Positions that a buffer begins with; buffers of our own begin where four divides. */
export const positionsIn = (b: Buffer, count: number) => positionsOf(b.buffer, b.byteOffset, count);

export async function readPoints(cloud: EditableCloud): Promise<StoredPoints> {
  const [position, attributes, { classes, flags }] = await Promise.all([
    readFile(cloud.paths.position),
    readFile(cloud.paths.attributes),
    columnsOf(cloud),
  ]);
  const n = classes.length;
  const xyz = positionsIn(position, n);
  const a = attributesOf(attributes, n);
  const set: PointSet = {
    count: n,
    x: new Float64Array(n),
    y: new Float64Array(n),
    z: new Float64Array(n),
    origin: [cloud.origin[0], cloud.origin[1], cloud.origin[2]],
  };
  const [skip, strip, time, sdM] = [new Uint8Array(n), new Uint16Array(n), new Uint32Array(n), new Float32Array(n)];
  for (let i = 0; i < n; i++) {
    set.x[i] = xyz[3 * i] * cloud.scale;
    set.y[i] = xyz[3 * i + 1] * cloud.scale;
    set.z[i] = xyz[3 * i + 2] * cloud.scale;
    strip[i] = a.strip(i);
    time[i] = a.time(i);
    sdM[i] = a.sdM(i);
    const cls = classes[i];
    skip[i] = flags[i] & 1 || cls === LAS_CLASS.lowNoise || cls === LAS_CLASS.highNoise ? 1 : 0;
  }
  return { set, xyz, classes, skip, strip, time, sdM };
}
