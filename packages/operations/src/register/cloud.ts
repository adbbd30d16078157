import { rm } from 'node:fs/promises';
import { type FacesAt, type PlacedScan } from '@longheron/core/terrestrial';
import { part, tick, type Watch } from '@longheron/core/shared';
import { writeFileWhole } from '@longheron/formats/bytes';
import { wktOfSystem } from '@longheron/formats/crs';
import { ADJUSTED_GPS_OFFSET_S, LasFile, LasWriter, writeColoured, writeFromPoints } from '@longheron/formats/las';
import { NO_FIELDS, type PointBatch } from '@longheron/formats/points';
import { type ScanFrame, type ScanPlacer } from './frame';
import { PlacedBatch, type ScannerSd } from './points';
import { ownPoints, type OpenScan } from './scans';
import { type Sections } from './sections';

/** What is written: scans that were placed, each with its pose and what places its points. */
export interface Writing {
  scans: Array<{ scan: OpenScan; originM: readonly number[]; found: PlacedScan; placer: ScanPlacer; faces?: FacesAt }>;
  frame: ScanFrame;
  sd: ScannerSd;
  metresPer: number;
  /** Takes what falls into sections; none where they are not kept. */
  sections?: Sections;
}

const noColour = (n: number): PointBatch['colour'] => [0, 1, 2].map(() => new Uint16Array(n)) as PointBatch['colour'];

/** Writes all scans as one cloud, each under its number. @returns points of each. */
export async function writeScans(path: string, w: Writing, watch?: Watch): Promise<number[]> {
  const counts = w.scans.map(() => 0);
  const each = async function* (): AsyncGenerator<{ k: number; batch: PointBatch; placed: PlacedBatch }> {
    for (const [k, { scan, originM, found, placer, faces }] of w.scans.entries()) {
      const own = part(watch, k / w.scans.length, (k + 0.7) / w.scans.length);
      tick(own, 0, `Placing ${scan.name}`);
      for await (const batch of ownPoints(scan, own)) {
        const placed = new PlacedBatch(batch, w.metresPer, originM, found, placer, w.sd, faces);
        counts[k] += batch.count;
        w.sections?.take(scan.name, placed);
        yield { k, batch, placed };
      }
    }
  };
  const { system } = w.frame;
  if (!system) {
    const colour = w.scans.some((s) => s.scan.coloured);
    const fields = { ...NO_FIELDS, intensity: true, source: true, colour };
    const source = {
      name: path,
      fields,
      lost: [],
      details: [],
      batches: placedBatches,
      close: () => Promise.resolve(),
    };
    async function* placedBatches(): AsyncGenerator<PointBatch> {
      for await (const { k, batch, placed } of each())
        yield {
          count: batch.count,
          x: placed.easting,
          y: placed.northing,
          z: placed.height,
          intensity: batch.intensity ?? new Uint16Array(batch.count),
          source: new Uint16Array(batch.count).fill(k + 1),
          ...(colour ? { colour: batch.colour ?? noColour(batch.count) } : {}),
        };
    }
    await writeFromPoints(source, placedBatches(), path, undefined, new Date());
    return counts;
  }
  const { definition } = system;
  const first = w.scans[0].placer.atM;
  const offset = first.map((v, k) =>
    Math.round(v / (k === 2 ? definition.verticalMetresPerUnit : definition.metresPerUnit)),
  ) as [number, number, number];
  const colours: Uint8Array[] = [];
  let coloured = false;
  const plain = `${path}.plain`;
  try {
    await writeFileWhole(plain, async (file) => {
      const writer = await LasWriter.create(file, wktOfSystem(definition), offset, new Date());
      for await (const { k, batch, placed } of each()) {
        const n = batch.count;
        const scaled = (v: Float64Array, per: number) => (per === 1 ? v : v.map((m) => m / per));
        await writer.append({
          easting: scaled(placed.easting, definition.metresPerUnit),
          northing: scaled(placed.northing, definition.metresPerUnit),
          height: scaled(placed.height, definition.verticalMetresPerUnit),
          intensity: batch.intensity ?? new Uint16Array(n),
          returnNumber: batch.returnNumber ?? new Uint8Array(n).fill(1),
          returnCount: batch.returnCount ?? new Uint8Array(n).fill(1),
          scannerChannel: 0,
          strip: new Uint16Array(n).fill(k + 1),
          gpsS: new Float64Array(n).fill(ADJUSTED_GPS_OFFSET_S),
          sdE: placed.sdE,
          sdN: placed.sdN,
          sdH: placed.sdH,
        });
        const rgb = new Uint8Array(3 * n);
        if (batch.colour) {
          coloured = true;
          batch.colour.forEach((c, j) => {
            for (let i = 0; i < n; i++) rgb[3 * i + j] = c[i] >> 8;
          });
        }
        colours.push(rgb);
      }
      await writer.finish();
    });
    const file = await LasFile.openPath(plain);
    try {
      const all = new Uint8Array(colours.reduce((s, c) => s + c.length, 0));
      let at = 0;
      for (const c of colours) {
        all.set(c, at);
        at += c.length;
      }
      await writeColoured(file, path, definition, new Date(), all, () => coloured);
    } finally {
      await file.close();
    }
  } finally {
    await rm(plain, { force: true });
  }
  return counts;
}
