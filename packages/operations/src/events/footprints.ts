import { type CameraModel, type ReferenceSystem } from '@longheron/core/frames';
import { footprintOf, overlapsOf, type Footprint } from '@longheron/core/imaging';
import { median } from '@longheron/core/numeric';
import { type EventPose } from '@longheron/core/trajectory';
import { writeFileWhole } from '@longheron/formats/bytes';
import { crsUrn } from '@longheron/formats/geojson';
import { type ReportBuilder } from '../shared/report';

export interface FootprintRequest {
  system: ReferenceSystem;
  /** Height of the ground in the system, metres; taken as level. */
  groundM: number;
  /** Views that reach further are cut there, metres. */
  farthestM: number;
}

export interface FootprintTable {
  /** Of each kept event, in order. */
  footprints: Array<Footprint | undefined>;
  /** Shares with the next and with the best of another line; NaN where there is none. */
  next: Float64Array;
  side: Float64Array;
  figures: FootprintFigures;
}

/** Shares are of 1, lengths metres; null where there is none. */
export type FootprintFigures = {
  ground_m: number;
  farthest_m: number;
  footprints: number;
  footprints_cut: number;
  overlap_next_median: number | null;
  overlap_side_median: number | null;
  overlap_gaps: number;
  ground_sample_m: number | null;
};

/** Photographs this near in the series are of the same line. */
const SAME_LINE = 5;
/** Of a series that is meant to overlap, less than this is a gap. */
const GAP_BELOW = 0.2;
const MEANT_TO_OVERLAP = 0.4;

/** What photographs show of level ground, and how they overlap, said where it breaks off. */
export function footprintTable(
  poses: EventPose[],
  camera: CameraModel,
  r: FootprintRequest,
  builder: ReportBuilder,
): FootprintTable {
  const xyz = new Float64Array(3);
  const footprints = poses.map((p) => {
    if (!p.attitude) return undefined;
    r.system.project(p.latRad, p.lonRad, p.hEllM, xyz);
    const { convergenceRad } = r.system.convergenceAndScale(p.latRad, p.lonRad);
    return footprintOf(
      { xyzM: [xyz[0], xyz[1], xyz[2]], ...p.attitude, convergenceRad },
      camera,
      r.groundM,
      r.farthestM,
    );
  });
  const { next, side } = overlapsOf(
    footprints.map((f) => f?.corners),
    SAME_LINE,
  );
  const blind = footprints.filter((f) => !f).length;
  const along = next.filter((v) => !Number.isNaN(v));
  const usual = along.length ? median(along) : Number.NaN;
  const gaps = usual >= MEANT_TO_OVERLAP ? [...next.keys()].filter((i) => next[i] < GAP_BELOW) : [];
  if (blind === poses.length && poses.length > 0)
    builder.notice({
      code: 'events-no-ground',
      severity: 'warning',
      text: 'No photograph shows the ground at the height given.',
      effect: 'There are no footprints.',
      remedy: 'Check the height of the ground, and which way the camera looks.',
    });
  else if (gaps.length)
    builder.notice({
      code: 'events-overlap',
      severity: 'info',
      text: `${gaps.length} of ${along.length} photographs overlap by less than ${100 * GAP_BELOW} % with the next, first that of event ${gaps[0] + 1}.`,
      effect: 'Between lines that is as it must be; within a line it is a gap.',
      remedy: 'See them on the map.',
    });
  const sample = footprints.flatMap((f) => (f && Number.isFinite(f.groundSampleM) ? [f.groundSampleM] : []));
  return {
    footprints,
    next,
    side,
    figures: {
      ground_m: r.groundM,
      farthest_m: r.farthestM,
      footprints: poses.length - blind,
      footprints_cut: footprints.filter((f) => f?.open).length,
      overlap_next_median: Number.isNaN(usual) ? null : usual,
      overlap_side_median: side.some((v) => v > 0) ? median([...side].filter((v) => v > 0)) : null,
      overlap_gaps: gaps.length,
      ground_sample_m: sample.length ? median(sample) : null,
    },
  };
}

/** Writes footprints as GeoJSON areas in the units of the system; cut ones say so. */
export async function writeFootprints(
  path: string,
  poses: EventPose[],
  { footprints, next, side }: FootprintTable,
  system: ReferenceSystem,
): Promise<void> {
  const { metresPerUnit } = system.definition;
  const number = (v: number, digits: number) => (Number.isNaN(v) ? null : Number(v.toFixed(digits)));
  await writeFileWhole(path, async (out) => {
    const crs = `"crs":{"type":"name","properties":{"name":"${crsUrn(system.definition)}"}}`;
    await out.write(`{"type":"FeatureCollection",${crs},"features":[\n`);
    let first = true;
    for (const [i, f] of footprints.entries()) {
      if (!f) continue;
      const ring = [...f.corners, f.corners[0]].map((c) => c.map((v) => Number((v / metresPerUnit).toFixed(3))));
      const { label, week, sow } = poses[i].event;
      const feature = {
        type: 'Feature',
        properties: {
          label,
          gps_week: week,
          gps_sow: Number(sow.toFixed(6)),
          cut: f.open,
          slant_m: number(f.slantM, 2),
          overlap_next: number(next[i], 3),
          overlap_side: number(side[i], 3),
          ground_sample_m: number(f.groundSampleM, 4),
        },
        geometry: { type: 'Polygon', coordinates: [ring] },
      };
      await out.write(`${first ? '' : ',\n'}${JSON.stringify(feature)}`);
      first = false;
    }
    await out.write('\n]}\n');
  });
}
