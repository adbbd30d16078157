import 'reflect-metadata';
import {
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
  ValidateIf,
} from 'class-validator';
import { OPERATION_NAMES, type Operation } from '../operations';
import { type Given } from '../declare';

export class CreateProject {
  @IsString()
  @IsNotEmpty({ message: 'A project needs a name.' })
  @MaxLength(120, { message: 'A name has at most 120 characters.' })
  name!: string;
}

export class ReferenceLine {
  /** Of the EPSG list; 0 when `plan` defines it. */
  @ValidateIf((line: ReferenceLine) => !line.plan)
  @IsInt()
  @Min(1024, { message: 'Choose a projected system.' })
  @Max(999999)
  horizontal!: number;
  /** A system of the project, as a file, that defines plan. */
  @IsOptional()
  @IsInt()
  @Min(1)
  plan?: number;
  /** Heights are those of the file of `plan`. */
  @IsOptional()
  @IsBoolean()
  ownHeights?: boolean;
  /** 0: ellipsoidal, or above the geoid of `geoid`. */
  @IsInt()
  @Min(0)
  @Max(999999)
  vertical!: number;
  /** A geoid grid of the project that heights refer to, or a system of it that has heights. */
  @IsOptional()
  @IsInt()
  @Min(1)
  geoid?: number;
  /** Accuracy of the surface that heights refer to, 1 SD in metres, as its makers state it. */
  @IsOptional()
  @IsNumber({}, { message: 'The accuracy of the surface is a number in metres.' })
  @Min(0)
  @Max(10)
  surfaceSdM?: number;
  /** A grid of datum shifts of the project, for a system on another datum. */
  @IsOptional()
  @IsInt()
  @Min(1)
  shift?: number;
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

export class TakeReference {
  /** The project whose reference line is wanted. */
  @IsInt()
  @Min(1)
  from!: number;
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
  @IsNumber({}, { message: 'The tolerance of plan is a number in metres.' })
  @Min(0.001, { message: 'The tolerance of plan is at least 1 mm.' })
  @Max(10)
  planToleranceM?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The share of points that agree is a number in per cent.' })
  @Min(1)
  @Max(100, { message: 'No more than 100 % can agree.' })
  classTolerance?: number;
  @IsOptional()
  @IsNumber({}, { message: 'The tolerance of the TIN is a number in metres.' })
  @Min(0.001, { message: 'The tolerance of the TIN is at least 1 mm.' })
  @Max(10)
  surfaceToleranceM?: number;
  @IsOptional()
  @IsString()
  @MaxLength(500, { message: 'The purpose has at most 500 characters.' })
  purpose?: string;
  @IsOptional()
  @IsBoolean()
  putAway?: boolean;
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
