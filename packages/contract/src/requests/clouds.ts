import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsInt,
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
import { FINDERS, type FinderName } from '@longheron/core/cloud';
import { type Given } from '../declare';

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

/** What a person sees of a project: values by name, as the screen keeps them. */
export class ProjectLook {
  @IsObject({ message: 'A look is an object.' })
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
  @ArrayMaxSize(1000, { message: 'At most 1000 points at once.' })
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
  @ArrayMaxSize(1000, { message: 'A recipe has at most 1000 steps.' })
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
