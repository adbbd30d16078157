import {
  carryPlace,
  ecefToGeodetic,
  EGM96,
  frameOfCode,
  GRS80,
  internationalFrame,
  type InternationalFrame,
  type Plate,
} from '@longheron/core/frames';
import { type Orbits, pointPosition, type Observations } from '@longheron/core/gnss';
import { median } from '@longheron/core/numeric';
import { Problem } from '@longheron/core/shared';
import { type ReportBuilder } from '../shared/report';

/** Marker of a base and where its coordinates come from. */
export interface BasePosition {
  xyzM: [number, number, number];
  source: 'given' | 'header';
}

/** Codes alone put a base at rest within this, metres: beyond it the coordinates are of another place. */
const PLAUSIBLE_M = 50;
const SUSPICIOUS_M = 5;
/** A height off by the undulation within this was levelled, metres. */
const LIKE_GEOID_M = 4;

/** Median place by the base's own codes, metres; undefined when none can be computed. */
export function placeByCodes(base: Observations, orbits: Orbits): Float64Array | undefined {
  const found: Float64Array[] = [];
  const step = Math.max(1, Math.floor(base.sow.length / 30));
  for (let k = 0; k < base.sow.length; k += step) {
    const p = pointPosition(base, k, orbits, found[0]);
    if (p) found.push(p.xyzM);
  }
  return found.length === 0 ? undefined : Float64Array.from([0, 1, 2], (k) => median(found.map((p) => p[k])));
}

/**
 * The marker to use, with what speaks against it said.
 * @param given a position, or `mean` for that of its own codes; without it the header's counts.
 */
export function baseMarker(
  base: Observations,
  orbits: Orbits,
  given: BasePosition | 'mean' | undefined,
  file: string,
  builder: ReportBuilder,
): Float64Array {
  const byCodes = placeByCodes(base, orbits);
  const chosen: BasePosition | undefined =
    given === 'mean'
      ? undefined
      : (given ?? (base.approximateM ? { xyzM: base.approximateM, source: 'header' } : undefined));
  if (!chosen) {
    if (!byCodes)
      throw new Problem(
        given === 'mean'
          ? 'No position of the base can be computed from its codes.'
          : 'The base has no position: none is given, none stands in its header, and none can be computed.',
        {
          code: 'base-position',
          file,
          remedy: 'Type its position, or choose its mark.',
          command: 'Give --base-llh or --base-xyz.',
        },
      );
    builder.notice({
      code: 'base-mean',
      severity: 'warning',
      file,
      text: 'The position of the base is the mean of its own codes.',
      effect: 'It is weak: the whole trajectory is off by the same one to two metres.',
      remedy: 'Type the surveyed position, or choose its mark.',
      command: 'Give --base-llh or --base-xyz.',
    });
    return byCodes;
  }
  if (chosen.source === 'header')
    builder.notice({
      code: 'base-header',
      severity: 'warning',
      file,
      place: 'header, APPROX POSITION XYZ',
      text: 'The position of the base is that of its header.',
      effect: 'Headers often hold an approximate position; the whole trajectory is off by its error.',
      remedy: 'Type the surveyed position, or choose its mark.',
      command: 'Give the surveyed position with --base-llh or --base-xyz.',
    });
  if (byCodes) compare(chosen, byCodes, file, builder);
  return Float64Array.from(chosen.xyzM);
}

function compare(chosen: BasePosition, byCodes: Float64Array, file: string, builder: ReportBuilder): void {
  const off = Math.hypot(...[0, 1, 2].map((k) => chosen.xyzM[k] - byCodes[k]));
  const [lat, lon, h] = ecefToGeodetic(GRS80, byCodes[0], byCodes[1], byCodes[2]);
  const there = `${((lat * 180) / Math.PI).toFixed(6)}°, ${((lon * 180) / Math.PI).toFixed(6)}°, ${h.toFixed(1)} m`;
  if (off > PLAUSIBLE_M)
    throw new Problem(
      `The position of the base is ${off > 1e4 ? `${(off / 1000).toFixed(0)} km` : `${off.toFixed(0)} m`} from where its codes put it (${there}).`,
      {
        code: 'base-elsewhere',
        file,
        remedy: 'Check signs, order, hemisphere and the kind of height, or choose the base file that belongs to it.',
      },
    );
  const given = ecefToGeodetic(GRS80, chosen.xyzM[0], chosen.xyzM[1], chosen.xyzM[2]);
  const undulation = EGM96.undulation(lat, lon);
  const levelled = Math.abs(undulation) > 2 * LIKE_GEOID_M && Math.abs(h - given[2] - undulation) < LIKE_GEOID_M;
  if (off > SUSPICIOUS_M)
    builder.notice({
      code: 'base-off',
      severity: 'warning',
      file,
      text: `The position of the base is ${off.toFixed(1)} m from where its codes put it (${there}).`,
      effect: 'Codes are good to two metres: another frame, a levelled height or a wrong mark would show like this.',
      remedy: levelled
        ? `The height is too low by about the undulation there (${undulation.toFixed(1)} m): it seems to be levelled, not ellipsoidal.`
        : 'Check the position.',
    });
}

/** Frames of the result that an international frame can be brought to. */
/** Epochs that are taken as one: half a tenth of a year moves a place by less than 5 mm. */
const SAME_EPOCH_YEARS = 0.05;

/**
 * The base's marker in the frame of the result; the move is said. @param epoch of the observations, year with decimals.
 * @throws Problem when the frame of the result is not known, or the way to its epoch is not.
 */
export function inFrame(
  markerM: Float64Array,
  request: { frame?: string; baseFrame?: { frame: InternationalFrame; epoch: number }; plate?: Plate },
  epoch: number,
  builder: ReportBuilder,
): Float64Array {
  const { baseFrame, plate } = request;
  if (!baseFrame) return markerM;
  const code = request.frame ?? 'EPSG:4937';
  const from = internationalFrame(baseFrame.frame, baseFrame.epoch);
  const frame = frameOfCode(code, from.frame);
  if (!frame)
    throw new Problem(`Coordinates in ${baseFrame.frame} cannot be brought to ${code}: no way between them is known.`, {
      code: 'base-frame',
      remedy: 'Give the base in the frame of the result.',
      command: 'Leave --frame at EPSG:4937, or give the base in that frame.',
    });
  const same = Math.abs(from.epoch - epoch) < SAME_EPOCH_YEARS;
  const to = { frame, epoch: same ? from.epoch : epoch };
  const { xyzM, byM, steps } = carryPlace(markerM, from, to, plate && { plate });
  const called = EUROPEAN.test(code) ? 'ETRS89' : frame;
  builder.notice({
    code: 'base-moved',
    severity: 'info',
    text: `The base was brought from ${baseFrame.frame}, epoch ${baseFrame.epoch}, to ${called}: it moves by ${(1000 * byM).toFixed(0)} mm.`,
    effect: `${steps.join('; ')}.`,
  });
  return xyzM;
}

const EUROPEAN = /^EPSG:(4937|4258)$/;
