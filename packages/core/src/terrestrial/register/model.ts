import { type Matrix3, type Vector3 } from '../../numeric/matrix3';
import { type ScanPatches } from './surfaces/patches';

/** A target as a scan shows it, in the scanner's own frame (right-handed, z up, metres). */
export interface SeenTarget {
  scan: string;
  target: string;
  atM: Vector3;
  /** 1 SD of each coordinate. */
  sdM: number;
  kind?: 'sphere' | 'disc' | 'corner';
}

/** A place that is known beforehand, in the frame that scans are brought into: x east, y north, z up. */
export interface KnownPlace {
  name: string;
  atM: Vector3;
  sdM: Vector3;
}

/** Where a scanner is said to have stood. */
export interface KnownStation extends KnownPlace {
  /** Bearing of the scanner's y axis, from y towards x, radians, and 1 SD. */
  bearingRad?: number;
  sdBearingRad?: number;
  /** Only to begin with: surfaces tell the rest. */
  rough?: boolean;
}

export interface RegisterRequest {
  scans: readonly string[];
  seen: readonly SeenTarget[];
  control: readonly KnownPlace[];
  /** By the names of scans. */
  stations: readonly KnownStation[];
  /** How well scanners are levelled, 1 SD. */
  levelSdRad: number;
  /** Radius of the Earth by which verticals lean apart, metres; none: all verticals are z. */
  radiusM?: number;
  /** Surfaces of scans by name; given, scans are brought together by them as well. */
  surfaces?: ReadonlyMap<string, ScanPatches>;
  /** A cloud that lies where it should, its surfaces in the frame: scans are brought to it. */
  fixed?: { name: string; patches: ScanPatches };
  /** Poses by name to begin with where neither targets nor stations tell: in the frame, or, without a fixed cloud, in any. */
  starts?: ReadonlyMap<string, Pose>;
}

export interface Pose {
  /** Place of the scanner's origin. */
  atM: Vector3;
  /** Turns the scanner's axes into those of the frame. */
  rotation: Matrix3;
}

export interface PlacedScan extends Pose {
  name: string;
  /** 6 × 6: place, then small turns about the scanner's own axes; metres and radians. */
  covariance: Float64Array;
  targets: number;
  /** Pieces of its surfaces that agree with other scans. */
  pieces: number;
  /** The least sure direction of its place, unit, and its deviation; and the least sure turn. */
  weakest: { direction: Vector3; sdM: number; sdTurnRad: number };
}

export interface TargetResidual {
  scan: string;
  target: string;
  /** Adjusted less seen, in the axes of the frame, metres. */
  offM: Vector3;
  /** Largest standardised part (Baarda 1968); NaN where nothing checks it. */
  test: number;
}

export interface PairResidual {
  a: string;
  b: string;
  /** Common targets, and RMS of how they differ in space; NaN without any. */
  targets: number;
  rmsM: number;
  surfaces?: PairSurfaces;
}

/** How the surfaces of two scans agree. */
export interface PairSurfaces {
  /** Pieces that agree, and RMS of their distances from the planes of the other, metres. */
  pieces: number;
  rmsM: number;
  /** Share of the smaller scan's pieces that lie near anything of the other, and share of those that agree. */
  overlap: number;
  agreeing: number;
  /** The direction in which this pair alone is least sure, unit, and the deviation in it, metres. */
  weakest: { direction: Vector3; sdM: number };
  /** Where agreeing pieces differ most, upright ones before others: place and unit normal in the frame, distance along it. */
  worst?: { atM: Vector3; normal: Vector3; offM: number };
}

/** A scan whose pose nothing tells surely enough to claim it. */
export interface Unplaced {
  name: string;
  /** Nothing joins it; it fits none of those that it overlaps; a direction or a turn is left open. */
  why: 'apart' | 'unlike' | 'weak';
  /** Of a weak one: the open direction, unit, its deviation, and that of the least sure turn. */
  weakest?: { direction: Vector3; sdM: number; sdTurnRad: number };
}

/** A sighting of a target, the given place of a target, or a station that the others contradict. */
export interface LeftOut {
  what: 'sighting' | 'control' | 'station';
  /** Of a sighting and a station. */
  scan?: string;
  /** Of a sighting and of control. */
  target?: string;
  offM: number;
  test: number;
  /** Of a station: the scan that stands where it was given. */
  standsAt?: string;
}

export interface Registered {
  scans: PlacedScan[];
  unplaced: Unplaced[];
  targets: Array<{ name: string; atM: Vector3; sdM: Vector3; scans: number; control: boolean }>;
  residuals: TargetResidual[];
  pairs: PairResidual[];
  /** What was left out, worst first; how far off by what was kept. */
  rejected: LeftOut[];
  sigma0: number;
  redundancy: number;
  /** Deviations of surfaces in those that the scatter of their pieces tells; NaN without surfaces. */
  surfaceScale: number;
  /** Pairs of scans whose surfaces overlap and do not agree: they do not count. */
  unlike: Array<{ a: string; b: string }>;
  /** Whether nothing says where the whole lies: one scan then keeps the pose that it began with. */
  loose: boolean;
}
