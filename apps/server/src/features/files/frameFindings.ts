import { type ReferenceDto } from '@longheron/contract/api';
import {
  carryPlace,
  DEG,
  frameOfCode,
  frameOfSystem,
  geodeticToEcef,
  gridNameOf,
  GRS80,
  outsideAreaKm,
  suspectGeoid,
  type FrameAtEpoch,
} from '@longheron/core/frames';
import { Problem, type Notice } from '@longheron/core/shared';
import { findSystem, geoidNamed, shiftNamed } from '@longheron/formats/crs';

/** Where a trajectory runs: the middle of its extent. */
export interface Site {
  latDeg: number;
  lonDeg: number;
  hEllM: number;
  /** Code of the frame that the trajectory names, and the year of its recording. */
  crs: string | null;
  epoch: number;
  file: string;
}

const place = (s: Site) => `${s.latDeg.toFixed(3)}°, ${s.lonDeg.toFixed(3)}°`;

/** A grid of the project that does not cover its trajectory, or stands out against EGM96 there. */
export function gridFinding(
  kind: 'geoid' | 'datum-grid',
  file: string,
  sha256: string,
  site: Site,
): Notice | undefined {
  const name = gridNameOf(file, sha256);
  const [lat, lon] = [site.latDeg * DEG, site.lonDeg * DEG];
  try {
    if (kind === 'datum-grid') {
      const { parts } = shiftNamed(name);
      const covers = parts.some(
        (p) =>
          site.latDeg >= p.southDeg &&
          site.latDeg <= p.southDeg + (p.rows - 1) * p.stepLatDeg &&
          site.lonDeg >= p.westDeg &&
          site.lonDeg <= p.westDeg + (p.columns - 1) * p.stepLonDeg,
      );
      return covers ? undefined : elsewhere(file, `It says nothing of ${place(site)}, where ${site.file} runs.`);
    }
    const found = suspectGeoid(geoidNamed(name), lat, lon);
    if (!found) return undefined;
    const [n, egm] = [found.undulationM, found.egm96M].map((v) => `${v.toFixed(1)} m`);
    return {
      code: 'geoid-off',
      severity: 'error',
      file,
      text: `Its undulation at ${place(site)} is ${n}, by EGM96 ${egm}${found.kind === 'turned' ? ': it has the other sign' : ''}.`,
      effect: `Heights above it would be off by ${Math.abs(found.undulationM - found.egm96M).toFixed(1)} m.`,
      remedy: 'Ask for the grid of undulations (ellipsoid to geoid) of this country, in metres.',
    };
  } catch (error) {
    if (error instanceof Problem) return elsewhere(file, error.message);
    throw error;
  }
}

const elsewhere = (file: string, text: string): Notice => ({
  code: 'grid-elsewhere',
  severity: 'warning',
  file,
  text,
  effect: 'Nothing of this project can be computed with it.',
  remedy: 'Take it out, and import the grid of this country.',
});

/** A place that needs no zone beside it is this near to its area of use. */
const NEAR_KM = 30;

/** A trajectory far outside the area of the project's system, whatever any file says. */
export function areaFinding(site: Site, reference: ReferenceDto): Notice | undefined {
  const { bbox, horizontal, horizontalName } = reference;
  const km = bbox ? outsideAreaKm(bbox, site.latDeg, site.lonDeg) : 0;
  if (!bbox || km < NEAR_KM) return undefined;
  return {
    code: 'system-area',
    severity: 'error',
    file: site.file,
    text: `It runs at ${place(site)}, ${km.toFixed(0)} km outside the area of ${findSystem(horizontal)?.name ?? horizontalName} (${bbox[1]}° to ${bbox[3]}° east, ${bbox[2]}° to ${bbox[0]}° north).`,
    effect: 'Plan is stretched there, and nothing of it can be handed over as that system.',
    remedy: 'Choose the zone that the data lie in.',
  };
}

/** Frames closer than this are one for a survey. */
const APART_M = 0.02;

/** A trajectory whose frame and epoch lie apart from the project's, with the amount. */
export function frameFinding(site: Site, reference: ReferenceDto): Notice | undefined {
  const to = frameOfSystem(reference.datumName ?? reference.horizontalName, site.epoch);
  const source = site.crs ? frameOfCode(site.crs, 'ITRF2014') : undefined;
  if (!to || !source) return undefined;
  const from: FrameAtEpoch = { frame: source, epoch: site.epoch };
  const at = geodeticToEcef(GRS80, site.latDeg * DEG, site.lonDeg * DEG, site.hEllM);
  const { byM } = carryPlace(at, from, { frame: to, epoch: site.epoch });
  if (byM < APART_M) return undefined;
  return {
    code: 'frame-apart',
    severity: 'error',
    file: site.file,
    text: `It is in ${source} of ${site.epoch.toFixed(2)}, the project in ${reference.horizontalName}: ${(100 * byM).toFixed(0)} cm apart at ${place(site)}.`,
    effect: 'Everything placed by it is off by that much against marks and older surveys.',
    remedy: "Compute it with a base in the project's frame, or ask for it in that.",
  };
}
