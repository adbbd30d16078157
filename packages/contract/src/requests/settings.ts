import { Type } from 'class-transformer';
import { PLATFORMS, type Platform } from '@longheron/core/inertial';
import { INTERNATIONAL_FRAMES, type InternationalFrame } from '@longheron/core/frames';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateNested,
} from 'class-validator';

const range = (what: string, min: number, max: number, unit: string) => ({
  message: `${what} lies between ${min} and ${max}${unit ? ` ${unit}` : ''}.`,
});

/** A setting that may be left out: a number between two, ends counted in. The sentence of a refusal names both. */
const Between = (what: string, min: number, max: number, unit: string) => (target: object, key: string) => {
  for (const rule of [
    IsOptional(),
    IsNumber({}, range(what, min, max, unit)),
    Min(min, range(what, min, max, unit)),
    Max(max, range(what, min, max, unit)),
  ])
    rule(target, key);
};

/** Settings of each operation, with the ranges within which they make sense. */
export class PositionSettings {
  @Between('The lowest elevation', 0, 45, '°')
  maskDeg?: number;
  @IsOptional()
  @IsIn(['both', 'forward', 'reverse'], { message: 'The direction is both, forward or reverse.' })
  direction?: 'both' | 'forward' | 'reverse';
  @IsOptional()
  @IsIn(['GE', 'G', 'E'], { message: 'Systems are GPS, Galileo or both.' })
  systems?: 'GE' | 'G' | 'E';
  @IsOptional()
  @IsIn(['both', 'first'], { message: 'Frequencies are both bands, or the first alone.' })
  frequencies?: 'both' | 'first';
  @IsOptional()
  @IsArray()
  @Matches(/^[GE]\d\d$/, { each: true, message: 'Satellites to leave out are named like G05 or E11.' })
  leftOut?: string[];
  /** Part of the session to compute, GPS seconds. */
  @IsOptional()
  @IsNumber({}, { message: 'The start is a number in GPS seconds.' })
  startGps?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The end is a number in GPS seconds.' })
  endGps?: number;
  /** Frame of the base's coordinates; international ones are brought to ETRS89. */
  @IsOptional()
  @IsIn(['ETRS89', ...INTERNATIONAL_FRAMES], { message: 'The frame of the base is ETRS89, ITRF2020 or ITRF2014.' })
  baseFrame?: 'ETRS89' | InternationalFrame;
  @IsOptional()
  @IsNumber({}, { message: 'The epoch of the base is a year with decimals, for example 2026.46.' })
  @Min(1980, range('The epoch of the base', 1980, 2100, ''))
  @Max(2100, range('The epoch of the base', 1980, 2100, ''))
  baseEpoch?: number;
  /** Name of the mark that the base stands on, in the list that goes with it. */
  @IsOptional()
  @IsString()
  @MaxLength(60)
  baseMark?: string;
  /** Marker of the base; without all three its header counts. */
  @IsOptional()
  @IsNumber({}, { message: 'The latitude of the base is a number in degrees.' })
  @Min(-90, range('The latitude of the base', -90, 90, '°'))
  @Max(90, range('The latitude of the base', -90, 90, '°'))
  baseLatDeg?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The longitude of the base is a number in degrees.' })
  @Min(-180, range('The longitude of the base', -180, 180, '°'))
  @Max(180, range('The longitude of the base', -180, 180, '°'))
  baseLonDeg?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The height of the base is a number in metres.' })
  @Min(-500, range('The ellipsoidal height of the base', -500, 9000, 'm'))
  @Max(9000, range('The ellipsoidal height of the base', -500, 9000, 'm'))
  baseHEllM?: number;
  /** Whether the typed height is above the ellipsoid or in the height system of the project. */
  @IsOptional()
  @IsIn(['ellipsoidal', 'project'], {
    message: 'The height of the base is ellipsoidal or in the system of the project.',
  })
  baseHeightKind?: 'ellipsoidal' | 'project';
  /** The base at the mean of its own codes. */
  @IsOptional()
  @IsBoolean()
  baseMean?: boolean;
  @IsOptional()
  @IsNumber({}, { message: 'The antenna height is a number in metres.' })
  @Min(0, range('The antenna height', 0, 50, 'm'))
  @Max(50, range('The antenna height', 0, 50, 'm'))
  antennaHeightM?: number;
  /** What carries the inertial unit; only with inertial data. */
  @IsOptional()
  @IsIn(PLATFORMS, { message: `The platform is ${PLATFORMS.join(', ')}.` })
  platform?: Platform;
  @IsOptional()
  @IsNumber({}, { message: 'The heading is a number in degrees.' })
  @Min(-360, range('The heading at the start', -360, 360, '°'))
  @Max(360, range('The heading at the start', -360, 360, '°'))
  headingDeg?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The deviation of the lever arm is a number in metres.' })
  @Min(0.0005, range('The deviation of the lever arm', 0.0005, 1, 'm'))
  @Max(1, range('The deviation of the lever arm', 0.0005, 1, 'm'))
  leverArmSdM?: number;
  @IsOptional()
  @IsBoolean()
  standstill?: boolean;
  @IsOptional()
  @IsBoolean()
  noSlip?: boolean;
}

export class TrajectoryReportSettings {}

export class HandoverSettings {
  @IsOptional()
  @IsIn(['grid', 'geographic'], { message: 'Plan is grid or geographic.' })
  plan?: 'grid' | 'geographic';
  @IsOptional()
  @IsIn(['ellipsoidal', 'project', 'geoid'], {
    message: 'Heights are ellipsoidal, of the project, or by a geoid grid.',
  })
  heights?: 'ellipsoidal' | 'project' | 'geoid';
  @IsOptional()
  @IsNumber({}, { message: 'The rate is a number of rows a second.' })
  @Min(0.01, range('The rate', 0.01, 1000, '/s'))
  @Max(1000, range('The rate', 0.01, 1000, '/s'))
  rateHz?: number;
}

export class JoinSettings {}

export class StopsSettings {
  @IsOptional()
  @IsNumber({}, { message: 'The shortest stop is a number in seconds.' })
  @Min(2, range('The shortest stop', 2, 36000, 's'))
  @Max(36000, range('The shortest stop', 2, 36000, 's'))
  shortestS?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The antenna height is a number in metres.' })
  @Min(0, range('The antenna height', 0, 50, 'm'))
  @Max(50, range('The antenna height', 0, 50, 'm'))
  antennaHeightM?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The deviation of centring is a number in metres.' })
  @Min(0, range('The deviation of centring', 0, 0.1, 'm'))
  @Max(0.1, range('The deviation of centring', 0, 0.1, 'm'))
  centringSdM?: number;
}

/** A point of a network that keeps its coordinates within its deviations. */
export class HeldPointSetting {
  /** Marker of its recording. */
  @IsString()
  @MinLength(1)
  @MaxLength(60)
  name!: string;
  /** Mark of the project whose coordinates it has; its header's without it. */
  @IsOptional()
  @IsString()
  @MaxLength(60)
  mark?: string;
  @IsNumber({}, { message: 'The deviation in plan is a number in metres.' })
  @Min(0, range('The deviation in plan', 0, 10, 'm'))
  @Max(10, range('The deviation in plan', 0, 10, 'm'))
  sdPlanM!: number;
  @IsNumber({}, { message: 'The deviation in height is a number in metres.' })
  @Min(0, range('The deviation in height', 0, 10, 'm'))
  @Max(10, range('The deviation in height', 0, 10, 'm'))
  sdHeightM!: number;
}

/** Height of the antenna of one recording, vertical from the mark to its reference point. */
export class AntennaHeightSetting {
  /** Place of the recording in the list of inputs. */
  @IsInt()
  @Min(0)
  recording!: number;
  @IsNumber({}, { message: 'The antenna height is a number in metres.' })
  @Min(0, range('The antenna height', 0, 50, 'm'))
  @Max(50, range('The antenna height', 0, 50, 'm'))
  heightM!: number;
}

export class NetworkSettings {
  @IsArray()
  @ArrayMinSize(1, { message: 'At least one point is held.' })
  @ValidateNested({ each: true })
  @Type(() => HeldPointSetting)
  held!: HeldPointSetting[];
  @Between('The lowest elevation', 0, 45, '°')
  maskDeg?: number;
  @Between('The shortest session', 10, 86400, 's')
  leastS?: number;
  /** Antenna heights that replace those of headers. */
  @IsOptional()
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => AntennaHeightSetting)
  antennaHeights?: AntennaHeightSetting[];
}

/** An event that a person leaves out. */
export class LeftOutEvent {
  @IsInt()
  @Min(0)
  event!: number;
  @IsString()
  @MinLength(1, { message: 'Say why the event is left out.' })
  @MaxLength(300)
  reason!: string;
}

export class EventsSettings {
  /** Sensor whose lever arm is applied; none: the trajectory's own point. */
  @IsOptional()
  @IsString()
  @MaxLength(60)
  sensor?: string;
  @IsOptional()
  @IsBoolean()
  leaveOutStrays?: boolean;
  @IsOptional()
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => LeftOutEvent)
  leftOut?: LeftOutEvent[];
  /** Height of the ground in the system of the project: footprints are then computed. */
  @IsOptional()
  @IsNumber({}, { message: 'The height of the ground is a number in metres.' })
  @Min(-500, range('The height of the ground', -500, 9000, 'm'))
  @Max(9000, range('The height of the ground', -500, 9000, 'm'))
  groundM?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The farthest view is a number in metres.' })
  @Min(1, range('The farthest view', 1, 100000, 'm'))
  @Max(100000, range('The farthest view', 1, 100000, 'm'))
  farthestM?: number;
}

export class PlaceSettings {
  @Between('The shortest strip', 0, 10000, 'm')
  minLengthM?: number;
  @Between('The turning rate', 0.5, 90, '° a second')
  turnDegPerS?: number;
  @Between('The wanted density', 1, 100000, 'points/m²')
  targetPerM2?: number;
  @Between('The least range', 0, 1000, 'm')
  minRangeM?: number;
  @Between('The greatest range', 0, 20000, 'm')
  maxRangeM?: number;
  @Between('The least intensity', 0, 65535, '')
  minIntensity?: number;
  @Between('The greatest intensity', 0, 65535, '')
  maxIntensity?: number;
  @Between('The start of the sector', -360, 360, '°')
  fromAzimuthDeg?: number;
  @Between('The end of the sector', -360, 360, '°')
  toAzimuthDeg?: number;
}

export class ClassifySettings {
  @IsOptional()
  @IsBoolean()
  ground?: boolean;
  @IsOptional()
  @IsIn(['triangles', 'cloth'], { message: 'The ground is found by triangles or by a cloth.' })
  method?: 'triangles' | 'cloth';
  @Between('The cell of the cloth', 0.1, 20, 'm')
  clothCellM?: number;
  @IsOptional()
  @IsIn([1, 2, 3], { message: 'The stiffness is 1, 2 or 3.' })
  stiffness?: 1 | 2 | 3;
  @Between('The distance from the cloth', 0.02, 2, 'm')
  clothWithinM?: number;
  @IsOptional()
  @IsBoolean()
  noise?: boolean;
  @IsOptional()
  @IsInt({ message: 'The number of neighbours is a whole number.' })
  @Min(2, range('The number of neighbours', 2, 30, ''))
  @Max(30, range('The number of neighbours', 2, 30, ''))
  neighbours?: number;
  @Between('The distance within which a point is kept', 0.05, 5, 'm')
  keepWithinM?: number;
  @Between('The spacing ratio', 1.5, 20, '')
  ratio?: number;
  @Between('The distance beyond which a point stands alone', 0.5, 50, 'm')
  aloneBeyondM?: number;
  @Between('The largest thing without ground', 2, 200, 'm')
  largestObjectM?: number;
  @Between('The steepest slope', 5, 88, '°')
  steepestDeg?: number;
  @Between('The finest cell', 0.1, 10, 'm')
  cellM?: number;
  @Between('The distance from the ground', 0.02, 1, 'm')
  withinM?: number;
  @IsOptional()
  @IsBoolean()
  things?: boolean;
  @Between('Low vegetation', 0.2, 5, 'm')
  lowM?: number;
  @Between('Medium vegetation', 0.2, 20, 'm')
  mediumM?: number;
  @Between('The least height of wires', 1, 50, 'm')
  wireM?: number;
  @Between('The least length of walls', 0.5, 50, 'm')
  longM?: number;
}

export class ExtractSettings {
  @IsObject()
  selection!: Record<string, unknown>;
  /** One point to a cube of this edge; all without it. */
  @IsOptional()
  @IsNumber({}, { message: 'The spacing is a number in metres.' })
  @Min(0.01, range('The spacing', 0.01, 100, 'm'))
  @Max(100, range('The spacing', 0.01, 100, 'm'))
  thinM?: number;
  @IsOptional()
  @IsIn(['first', 'precise'], { message: 'Of each cube the first or the most precise point is kept.' })
  keep?: 'first' | 'precise';
}

export class PlanCheckSettings {
  @IsOptional()
  @IsIn(['two-tone', 'sphere', 'corner'], { message: 'At the marks are two-tone targets, spheres or corners.' })
  target?: 'two-tone' | 'sphere' | 'corner';
  @IsOptional()
  @IsNumber({}, { message: 'The edge of the targets is a number in metres.' })
  @Min(0.1, range('The edge of the targets', 0.1, 3, 'm'))
  @Max(3, range('The edge of the targets', 0.1, 3, 'm'))
  edgeM?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The radius of the spheres is a number in metres.' })
  @Min(0.02, range('The radius of the spheres', 0.02, 1, 'm'))
  @Max(1, range('The radius of the spheres', 0.02, 1, 'm'))
  radiusM?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The search is a number in metres.' })
  @Min(0.05, range('The search', 0.05, 1, 'm'))
  @Max(1, range('The search', 0.05, 1, 'm'))
  searchM?: number;
}

export class CorrectSettings {
  @IsIn(['control', 'check'], { message: 'Say whether the control or the check marks set the height.' })
  by!: 'control' | 'check';
}

export class AgreementSettings {
  @Between('The cell', 0.1, 50, 'm')
  cellM?: number;
  @IsOptional()
  @IsInt({ message: 'The number of points is a whole number.' })
  @Min(4, range('The number of points', 4, 1000, ''))
  @Max(1000, range('The number of points', 4, 1000, ''))
  fewest?: number;
  @Between('The roughest surface', 0.001, 1, 'm')
  roughestM?: number;
  @Between('The distance of two surfaces', 0.01, 10, 'm')
  apartM?: number;
  @IsOptional()
  @IsBoolean()
  groundOnly?: boolean;
}

export class CoverageSettings {
  @IsOptional()
  @IsNumber({}, { message: 'The cell is a number in metres.' })
  @Min(0.1, range('The cell', 0.1, 100, 'm'))
  @Max(100, range('The cell', 0.1, 100, 'm'))
  cellM?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The wanted density is a number of points/m².' })
  @Min(0.01, range('The wanted density', 0.01, 100000, 'points/m²'))
  @Max(100000, range('The wanted density', 0.01, 100000, 'points/m²'))
  targetPerM2?: number;
  @IsOptional()
  @IsInt({ message: 'The number of points is a whole number.' })
  @Min(1, range('The number of points', 1, 10000, ''))
  @Max(10000, range('The number of points', 1, 10000, ''))
  fewest?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The smallest void is a number in m².' })
  @Min(0, range('The smallest void', 0, 1e6, 'm²'))
  @Max(1e6, range('The smallest void', 0, 1e6, 'm²'))
  leastVoidM2?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The half width of gaps is a number in metres.' })
  @Min(0, range('The half width of gaps', 0, 200, 'm'))
  @Max(200, range('The half width of gaps', 0, 200, 'm'))
  closeM?: number;
  @IsOptional()
  @IsBoolean()
  groundOnly?: boolean;
  /** Name of the area in the file; all of its areas without it. */
  @IsOptional()
  @IsString()
  @MaxLength(120)
  area?: string;
}

const SYSTEM = /^EPSG:\d{4,6}(\+\d{4,6})?$/;
const SYSTEM_TEXT = { message: 'A system is written like EPSG:25832+5773, or EPSG:25832 with ellipsoidal heights.' };

export class MergeSettings {
  /** Whether strips of one number are one. */
  @IsOptional()
  @IsIn(['same', 'apart', 'by time'], { message: 'Strips of one number are the same, apart, or one by time.' })
  strips?: 'same' | 'apart' | 'by time';
}

export class ClassCheckSettings {}

export class DeliverySettings {
  /** 0: found by itself. */
  @IsOptional()
  @IsInt({ message: 'The cap is a whole number of points.' })
  @Min(0, range('The cap', 0, 1e9, 'points'))
  @Max(1e9, range('The cap', 0, 1e9, 'points'))
  capPoints?: number;
  @Between('An open seam', 1, 1000, 'spacings')
  seamSpacings?: number;
}

export class ReprojectSettings {
  /** System of a cloud whose file names none. */
  @IsOptional()
  @Matches(SYSTEM, SYSTEM_TEXT)
  from?: string;
}

/** A point of a cloud in a frame of its own, and the mark that it is. */
export class PlacedPair {
  @IsString()
  @IsNotEmpty({ message: 'Say which mark the point is.' })
  mark!: string;
  @IsNumber({}, { message: 'The place in the cloud is three numbers.' })
  x!: number;
  @IsNumber({}, { message: 'The place in the cloud is three numbers.' })
  y!: number;
  @IsNumber({}, { message: 'The place in the cloud is three numbers.' })
  z!: number;
}

export class AlignSettings {
  @IsArray()
  @ArrayMinSize(2, { message: 'It takes three points, or two of a cloud that is level.' })
  @ArrayMaxSize(200, { message: 'At most 200 points.' })
  @ValidateNested({ each: true })
  @Type(() => PlacedPair)
  pairs!: PlacedPair[];
  @IsOptional()
  @IsIn(['one', 'plan', 'free'], { message: 'Lengths stay, are shortened as the plan is, or follow the points.' })
  scale?: 'one' | 'plan' | 'free';
  @IsOptional()
  @IsBoolean()
  level?: boolean;
}

export class SmoothSettings {
  @Between('The radius', 0.02, 5, 'm')
  radiusM?: number;
  @Between('The thickness', 0.001, 1, 'm')
  thickM?: number;
  @Between('The farthest move', 0.001, 1, 'm')
  mostM?: number;
}

export class CheckSettings {}

export class SurfaceSettings {
  @Between('The cell', 0.05, 50, 'm')
  cellM?: number;
  @Between('The largest hole filled', 0.1, 100, 'm')
  maxGapM?: number;
  @Between('The contour interval', 0, 100, 'm')
  contoursM?: number;
  @Between('The spacing of TIN points', 0, 50, 'm')
  tinSpacingM?: number;
}

export class ExportCloudSettings {
  @IsOptional()
  @IsArray()
  @IsInt({ each: true, message: 'Classes are whole numbers.' })
  classes?: number[];
  @IsOptional()
  @IsArray()
  @IsInt({ each: true, message: 'Strips are whole numbers.' })
  strips?: number[];
  @IsOptional()
  @IsBoolean()
  withRejected?: boolean;
  @IsOptional()
  @IsIn(['las', 'laz', 'ply', 'ply-text', 'csv'], { message: 'Write LAS, LAZ, PLY (binary or text) or CSV.' })
  format?: 'las' | 'laz' | 'ply' | 'ply-text' | 'csv';
  /** Other than the project's. */
  @IsOptional()
  @Matches(SYSTEM, SYSTEM_TEXT)
  system?: string;
  @IsOptional()
  @IsIn(['one', 'strips', 'tiles'], { message: 'Write one file, a file for each strip, or tiles.' })
  split?: 'one' | 'strips' | 'tiles';
  @IsOptional()
  @IsNumber({}, { message: 'The edge of the tiles is a number in metres.' })
  @Min(1, range('The edge of the tiles', 1, 100000, 'm'))
  @Max(100000, range('The edge of the tiles', 1, 100000, 'm'))
  tileM?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The buffer is a number in metres.' })
  @Min(0, range('The buffer', 0, 1000, 'm'))
  @Max(1000, range('The buffer', 0, 1000, 'm'))
  bufferM?: number;
  @IsOptional()
  @IsInt({ message: 'The cap is a whole number of points.' })
  @Min(1000, range('The cap', 1000, 1e9, 'points'))
  @Max(1e9, range('The cap', 1000, 1e9, 'points'))
  capPoints?: number;
}

export class ReportSettings {}

/** Operations of the trail and what settings each takes. */
export const SETTINGS = {
  position: PositionSettings,
  place: PlaceSettings,
  classify: ClassifySettings,
  extract: ExtractSettings,
  check: CheckSettings,
  agreement: AgreementSettings,
  coverage: CoverageSettings,
  merge: MergeSettings,
  'class-check': ClassCheckSettings,
  delivery: DeliverySettings,
  reproject: ReprojectSettings,
  align: AlignSettings,
  smooth: SmoothSettings,
  'plan-check': PlanCheckSettings,
  correct: CorrectSettings,
  surface: SurfaceSettings,
  'export-cloud': ExportCloudSettings,
  report: ReportSettings,
  'trajectory-report': TrajectoryReportSettings,
  handover: HandoverSettings,
  join: JoinSettings,
  stops: StopsSettings,
  events: EventsSettings,
  network: NetworkSettings,
} as const;
export type Operation = keyof typeof SETTINGS;
export const OPERATIONS = Object.keys(SETTINGS) as Operation[];
