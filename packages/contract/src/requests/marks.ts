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
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';

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
