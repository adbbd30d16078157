import 'reflect-metadata';
import { Type } from 'class-transformer';
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
  ValidateNested,
} from 'class-validator';
import { type MountingJson } from '@longheron/core/frames';
import { FINDERS, type FinderName } from '@longheron/core/cloud';
import { OPERATION_NAMES, type Operation } from '../operations';
import { type Given } from '../declare';

export * from './contourStyle';
export * from './locate';
export { check } from '../declare';

/** Bodies of requests. Server and web validate with the same classes, so both say the same sentence. */

export class CreateProject {
  @IsString()
  @IsNotEmpty({ message: 'A project needs a name.' })
  @MaxLength(120, { message: 'A name has at most 120 characters.' })
  name!: string;
}

export class ReferenceLine {
  @IsInt()
  @Min(1024, { message: 'Choose a projected system.' })
  @Max(999999)
  horizontal!: number;
  /** 0: ellipsoidal. */
  @IsInt()
  @Min(0)
  @Max(999999)
  vertical!: number;
  @IsIn(['metre', 'foot', 'usSurveyFoot'], { message: 'The unit is metre, foot or US survey foot.' })
  unit!: 'metre' | 'foot' | 'usSurveyFoot';
  @IsIn(['gps', 'utc', 'local'], { message: 'Time is shown as GPS, UTC or local.' })
  time!: 'gps' | 'utc' | 'local';
  @IsOptional()
  @IsNumber({}, { message: 'The epoch is a year with decimals, for example 2026.45.' })
  @Min(1980)
  @Max(2100)
  epoch?: number;
}

export class UpdateProject {
  @IsOptional()
  @IsString()
  @IsNotEmpty({ message: 'A project needs a name.' })
  @MaxLength(120)
  name?: string;
  @IsOptional()
  @IsNumber({}, { message: 'The tolerance is a number in metres.' })
  @Min(0.001, { message: 'The tolerance is at least 1 mm.' })
  @Max(10)
  toleranceM?: number;
  @IsOptional()
  @IsString()
  @MaxLength(500, { message: 'The purpose has at most 500 characters.' })
  purpose?: string;
}

export class StartRun {
  @IsIn(OPERATION_NAMES, { message: 'There is no such operation.' })
  operation!: Operation;
  /** Datasets by role: trajectory, returns (several), mounting, cloud, marks. */
  @IsObject()
  inputs!: Record<string, number | number[]>;
  @IsOptional()
  @IsObject()
  settings?: Given;
  /** Dataset that gets a new revision; without it a new dataset is made. */
  @IsOptional()
  @IsInt()
  outputDataset?: number;
}

export class AcceptNotice {
  @IsString()
  @IsNotEmpty({ message: 'Say why it can be accepted; the reason goes into the report.' })
  @MaxLength(500)
  reason!: string;
}

/** A station of the reference-station service by its code, or VIRTUAL. */
export class FetchStation {
  @Matches(/^[A-Z0-9]{3,9}$/, { message: 'A station has a code of 3 to 9 capital letters and digits.' })
  code!: string;
}

/** What a person has selected of a cloud; its parts are checked where they are read. */
export class SelectPoints {
  @IsObject()
  selection!: Given;
}

/** A view of a cloud under a name. */
export class SavedView {
  @Matches(/\S/, { message: 'A view needs a name.' })
  @MaxLength(60, { message: 'A name has at most 60 characters.' })
  name!: string;
  @IsObject()
  look!: Given;
}

/** What can be measured between points, and how many it takes at least and at most. */
export const MEASURE_POINTS = {
  distance: [2, 2],
  angle: [3, 3],
  area: [3, 200],
  above: [1, 1],
  plane: [2, 2],
} as const;
export type MeasureKind = keyof typeof MEASURE_POINTS;

export class MeasurePoints {
  @IsIn(Object.keys(MEASURE_POINTS), { message: 'That cannot be measured.' })
  kind!: MeasureKind;
  /** Places of the points in the stored cloud. */
  @IsArray()
  @IsInt({ each: true, message: 'Rows are whole numbers.' })
  @Min(0, { each: true, message: 'Rows are whole numbers from 0.' })
  rows!: number[];
  /** Of the plane's points about the first, metres. */
  @IsOptional()
  @IsNumber({}, { message: 'The radius is a number in metres.' })
  @Min(0.05, { message: 'The radius lies between 0.05 and 20 m.' })
  @Max(20, { message: 'The radius lies between 0.05 and 20 m.' })
  radiusM?: number;
}

/** Something to be measured and kept under a name. */
export class KeepMeasured extends MeasurePoints {
  @Matches(/\S/, { message: 'What was measured needs a name.' })
  @MaxLength(60, { message: 'A name has at most 60 characters.' })
  name!: string;
}

/** How long a cell of the looked-at map was before the eye. */
export class LookSeen {
  @IsInt()
  x!: number;
  @IsInt()
  y!: number;
  @IsIn(['close', 'section'])
  how!: 'close' | 'section';
  @IsNumber()
  @Min(0)
  @Max(3600)
  seconds!: number;
}

export class KeepLooks {
  @IsArray()
  @ArrayMaxSize(20_000, { message: 'At most 20 000 cells at once.' })
  @ValidateNested({ each: true })
  @Type(() => LookSeen)
  looks!: LookSeen[];
}

/** A class of a project's own. */
export class OwnClassRequest {
  @IsInt({ message: 'The code of a class is a whole number.' })
  @Min(64, { message: 'Codes of your own lie between 64 and 255: the others belong to the standard.' })
  @Max(255, { message: 'Codes of your own lie between 64 and 255.' })
  code!: number;
  @Matches(/\S/, { message: 'A class needs a name.' })
  @MaxLength(40, { message: 'A name has at most 40 characters.' })
  name!: string;
  @Matches(/^#[0-9a-fA-F]{6}$/, { message: 'A colour is written like #4a86c9.' })
  colour!: string;
}

export class FindPoints {
  @IsIn(Object.keys(FINDERS), { message: 'There is no such way to find points.' })
  finder!: FinderName;
  @IsOptional()
  @IsObject()
  settings?: Given;
  /** Row of the picked point. */
  @IsOptional()
  @IsInt()
  row?: number;
}

export class EditCloud extends SelectPoints {
  @IsObject()
  act!: Given;
  /** The revision that was looked at. */
  @IsInt()
  revision!: number;
}

/** Steps that can be done to any cloud, under a name. */
export class KeepRecipe {
  @IsString()
  @Matches(/\S/, { message: 'A recipe needs a name.' })
  @MaxLength(60, { message: 'A name has at most 60 characters.' })
  name!: string;
  @IsArray()
  @ArrayMinSize(1, { message: 'A recipe needs a step.' })
  steps!: unknown[];
}

/** A recipe for several clouds. */
export class RunRecipe {
  @IsString()
  name!: string;
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose the clouds it is done to.' })
  @ArrayMaxSize(2000, { message: 'At most 2000 clouds at once.' })
  @IsInt({ each: true })
  clouds!: number[];
}

/** A mounting for the library of vehicles. */
export class KeepPlatform {
  @IsString()
  @Matches(/\S/, { message: 'A vehicle of the library needs a name.' })
  @MaxLength(60, { message: 'A name has at most 60 characters.' })
  name!: string;
  @IsOptional()
  @IsString()
  @MaxLength(300, { message: 'A note has at most 300 characters.' })
  note?: string;
}

/** What people note of a session; empty where nothing was written yet. */
export class SessionSheet {
  @IsString()
  @MaxLength(300, { message: 'The crew takes at most 300 characters.' })
  crew!: string;
  @IsString()
  @MaxLength(300, { message: 'The vehicle takes at most 300 characters.' })
  vehicle!: string;
  @IsString()
  @MaxLength(300, { message: 'The instruments take at most 300 characters.' })
  instruments!: string;
  @IsString()
  @MaxLength(300, { message: 'The weather takes at most 300 characters.' })
  weather!: string;
  @IsString()
  @MaxLength(2000, { message: 'Remarks have at most 2000 characters.' })
  remarks!: string;
}

export class EditMounting {
  @IsObject()
  mounting!: MountingJson;
}

export class EditMark {
  @IsString()
  @IsNotEmpty()
  name!: string;
  @IsOptional()
  @IsIn(['control', 'check', 'unused'], { message: 'A role is control, check or unused.' })
  role?: 'control' | 'check' | 'unused';
  /** Empty: take it in again. */
  @IsOptional()
  @IsString()
  @MaxLength(300)
  leftOutReason?: string;
}

class RoleOfMark {
  @IsString()
  @IsNotEmpty()
  name!: string;
  @IsIn(['control', 'check', 'unused'], { message: 'A role is control, check or unused.' })
  role!: 'control' | 'check' | 'unused';
}

/** Roles of several marks at once, as rules or a split gave them. */
export class GiveRoles {
  @IsArray()
  @ArrayMinSize(1, { message: 'No mark would change.' })
  @ArrayMaxSize(100000)
  @ValidateNested({ each: true })
  @Type(() => RoleOfMark)
  roles!: RoleOfMark[];
  /** What gave them, for the trail. */
  @IsString()
  @IsNotEmpty()
  @MaxLength(500)
  by!: string;
}

/** A mark typed in by hand; metres in the project's system. */
export class AddMark {
  @IsString()
  @IsNotEmpty({ message: 'A mark needs a name.' })
  @MaxLength(60)
  name!: string;
  @IsIn(['control', 'check', 'unused'], { message: 'A role is control, check or unused.' })
  role!: 'control' | 'check' | 'unused';
  @IsNumber({}, { message: 'The easting is a number.' })
  @Min(-1e7)
  @Max(1e8, { message: 'There is no such easting.' })
  eastingM!: number;
  @IsNumber({}, { message: 'The northing is a number.' })
  @Min(-2e7)
  @Max(1e8, { message: 'There is no such northing.' })
  northingM!: number;
  @IsNumber({}, { message: 'The height is a number.' })
  @Min(-12000, { message: 'There is no such height.' })
  @Max(60000, { message: 'There is no such height.' })
  heightM!: number;
  @IsOptional()
  @IsNumber()
  @Min(0)
  sdHM?: number;
  @IsOptional()
  @IsString()
  @MaxLength(200)
  note?: string;
}

/** What the columns of a text of points hold, from 0. */
export class PointTextColumns {
  @IsInt({ message: 'Choose the column of eastings.' })
  @Min(0)
  x!: number;
  @IsInt({ message: 'Choose the column of northings.' })
  @Min(0)
  y!: number;
  @IsInt({ message: 'Choose the column of heights.' })
  @Min(0)
  z!: number;
  @IsOptional()
  @IsInt()
  @Min(0)
  intensity?: number;
  @IsOptional()
  @IsInt()
  @Min(0)
  red?: number;
  @IsOptional()
  @IsInt()
  @Min(0)
  green?: number;
  @IsOptional()
  @IsInt()
  @Min(0)
  blue?: number;
  @IsOptional()
  @IsInt()
  @Min(0)
  classification?: number;
  @IsOptional()
  @IsInt()
  @Min(0)
  source?: number;
  @IsOptional()
  @IsInt()
  @Min(0)
  time?: number;
}

/** A mark as a person sees it in its picture, metres from its given place; without a place the pick is taken back. */
export class PickMark {
  @IsString()
  @MaxLength(100)
  name!: string;
  @IsOptional()
  @IsNumber({}, { message: 'The pick is a number of metres.' })
  @Min(-5)
  @Max(5)
  dE?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The pick is a number of metres.' })
  @Min(-5)
  @Max(5)
  dN?: number;
  /** 1 SD of pointing, metres. */
  @IsOptional()
  @IsNumber({}, { message: 'The precision of the pick is a number in metres.' })
  @Min(0.001)
  @Max(1)
  sdM?: number;
}

/** Which column of a table holds what; columns from 0. */
export class MarkColumns {
  @IsInt({ message: 'Choose the column of names.' })
  @Min(0)
  name!: number;
  @IsInt({ message: 'Choose the column of eastings.' })
  @Min(0)
  easting!: number;
  @IsInt({ message: 'Choose the column of northings.' })
  @Min(0)
  northing!: number;
  @IsInt({ message: 'Choose the column of heights.' })
  @Min(0)
  height!: number;
  @IsOptional()
  @IsInt()
  role?: number;
  @IsOptional()
  @IsInt()
  sdE?: number;
  @IsOptional()
  @IsInt()
  sdN?: number;
  @IsOptional()
  @IsInt()
  sdH?: number;
  @IsOptional()
  @IsInt()
  note?: number;
  @IsIn(['metre', 'foot', 'usSurveyFoot'], { message: 'Say in which unit the coordinates are.' })
  unit!: 'metre' | 'foot' | 'usSurveyFoot';
  @IsIn(['control', 'check', 'unused'], { message: 'Say which role marks have that state none.' })
  defaultRole!: 'control' | 'check' | 'unused';
  @IsBoolean()
  decimalComma!: boolean;
}

export class TakeServerFiles {
  @IsArray()
  @IsString({ each: true })
  paths!: string[];
}
