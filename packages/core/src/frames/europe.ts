import { Problem } from '../shared/problem';
import { carryPlace, wgs84At, type FrameAtEpoch, type TerrestrialFrame } from './terrestrial';

/** International frames that coordinates may come in; WGS 84 is the realisation of its day. */
export const INTERNATIONAL_FRAMES = ['ITRF2020', 'ITRF2014', 'ITRF2008', 'ITRF2005', 'ITRF2000', 'WGS84'] as const;
export type InternationalFrame = (typeof INTERNATIONAL_FRAMES)[number];

/** The frame of coordinates in an international one. @throws Problem for WGS 84 of a time before it was as good. */
export function internationalFrame(frame: InternationalFrame, epoch: number): FrameAtEpoch {
  if (frame !== 'WGS84') return { frame, epoch };
  const realisation = wgs84At(epoch);
  if (!realisation)
    throw new Problem(`WGS 84 of ${epoch} was good to half a metre at best: it agrees with no frame of today.`, {
      code: 'frame-wgs84',
      remedy: 'Ask for the coordinates in an ITRF.',
    });
  return { frame: realisation.frame, epoch };
}

/** Frames of geographic systems in three dimensions, by EPSG code; ETRS89 is its realisation that goes with the source. */
const BY_CODE = new Map<string, TerrestrialFrame | 'ETRS89'>([
  ['4937', 'ETRS89'],
  ['4258', 'ETRS89'],
  ['7931', 'ETRF2000'],
  ['8403', 'ETRF2014'],
  ['6319', 'NAD83(2011)'],
  ['7843', 'GDA2020'],
  ['9989', 'ITRF2020'],
  ['7912', 'ITRF2014'],
  ['7911', 'ITRF2008'],
  ['7910', 'ITRF2005'],
  ['7909', 'ITRF2000'],
]);

/**
 * The terrestrial frame of a system's code. ETRS89 that does not say which realisation is taken as the one that goes with
 * where coordinates come from: ETRF2020 for ITRF2020, else ETRF2014. @param code as `EPSG:4937`.
 */
export function frameOfCode(code: string, from: TerrestrialFrame): TerrestrialFrame | undefined {
  const frame = BY_CODE.get(code.replace(/^EPSG:/, ''));
  if (frame !== 'ETRS89') return frame;
  return from === 'ITRF2020' ? 'ETRF2020' : 'ETRF2014';
}

/**
 * Brings a place from an international frame to ETRS89, of the realisation that goes with it. On the stable part of
 * Eurasia coordinates in ETRS89 stay, while those in international frames move 2 to 3 cm a year.
 * @param epoch year with decimals to which the coordinates belong. @returns Earth-centred metres.
 */
export function toEtrs89(xyzM: ArrayLike<number>, frame: InternationalFrame, epoch: number): Float64Array {
  const from = internationalFrame(frame, epoch);
  return carryPlace(xyzM, from, { frame: frameOfCode('4937', from.frame)!, epoch }).xyzM;
}

/**
 * The frame that a projected system is a map of, by its name in the EPSG list; undefined for those that are kept by old
 * datums or say too little. @param epoch year with decimals, for systems that follow the frame of their day.
 */
export function frameOfSystem(name: string, epoch: number): TerrestrialFrame | undefined {
  if (/^(ETRS89|ETRF2014)\b/.test(name)) return 'ETRF2014';
  if (/^ETRF2000\b/.test(name)) return 'ETRF2000';
  if (/^NAD83\(2011\)/.test(name)) return 'NAD83(2011)';
  if (/^GDA2020\b/.test(name)) return 'GDA2020';
  if (/^WGS 84\b/.test(name)) return wgs84At(epoch)?.frame;
  return undefined;
}
