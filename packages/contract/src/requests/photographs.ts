import 'reflect-metadata';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateNested,
} from 'class-validator';

const MOST_PX = 200_000;
const NAME = { message: 'A name is needed.' };

/** Where a point is seen in a photograph. */
export class SeenIn {
  @Matches(/\S/, NAME)
  @MaxLength(255)
  image!: string;
  @IsNumber({}, { message: 'A place in a photograph is two numbers.' })
  @Min(-MOST_PX)
  @Max(MOST_PX)
  xPx!: number;
  @IsNumber({}, { message: 'A place in a photograph is two numbers.' })
  @Min(-MOST_PX)
  @Max(MOST_PX)
  yPx!: number;
  @IsOptional()
  @IsNumber({}, { message: 'A deviation is a number of pixels.' })
  @Min(0.001, { message: 'A deviation is above zero.' })
  @Max(1000)
  sdPx?: number;
}

class PickOf extends SeenIn {
  @Matches(/^(?=.*\S)[^,"\r\n]+$/, { message: 'A point needs a name without commas and quotes.' })
  @MaxLength(80, { message: 'A name has at most 80 characters.' })
  point!: string;
}

class PickGone {
  @IsString()
  @MaxLength(255)
  image!: string;
  @IsString()
  @MaxLength(80)
  point!: string;
}

/** Picks that are made, moved or taken back, in one step. */
export class ChangePicks {
  /** The list that is changed; without it the one of picks made here. */
  @IsOptional()
  @IsInt()
  dataset?: number;
  @IsArray()
  @ArrayMaxSize(1000, { message: 'At most 1000 picks at once.' })
  @ValidateNested({ each: true })
  @Type(() => PickOf)
  set!: PickOf[];
  @IsArray()
  @ArrayMaxSize(1000, { message: 'At most 1000 picks at once.' })
  @ValidateNested({ each: true })
  @Type(() => PickGone)
  gone!: PickGone[];
}

/** What an adjusted block knows of a point. */
export class AskInPhotographs {
  @IsArray()
  @ArrayMaxSize(500)
  @ValidateNested({ each: true })
  @Type(() => SeenIn)
  rays!: SeenIn[];
  /** Its place from elsewhere, metres, and 1 SD. */
  @IsOptional()
  @IsArray()
  @ArrayMinSize(3)
  @ArrayMaxSize(3)
  @IsNumber({}, { each: true, message: 'A place is three numbers.' })
  at?: number[];
  @IsOptional()
  @IsArray()
  @ArrayMinSize(3)
  @ArrayMaxSize(3)
  @IsNumber({}, { each: true, message: 'Deviations are three numbers.' })
  sd?: number[];
  /** The cloud that the place is of. */
  @IsOptional()
  @IsInt()
  cloud?: number;
}

class CornerOf {
  @IsArray()
  @ArrayMinSize(2, { message: 'A corner needs two photographs at least.' })
  @ArrayMaxSize(100)
  @ValidateNested({ each: true })
  @Type(() => SeenIn)
  seen!: SeenIn[];
}

/** A point, line or area that is drawn in photographs of a block. */
export class DrawFeature {
  @Matches(/\S/, NAME)
  @MaxLength(80, { message: 'A name has at most 80 characters.' })
  name!: string;
  @IsIn(['point', 'line', 'area'], { message: 'Something measured is a point, a line or an area.' })
  shape!: 'point' | 'line' | 'area';
  @IsString()
  @MaxLength(40, { message: 'A code has at most 40 characters.' })
  code!: string;
  @IsString()
  @MaxLength(300, { message: 'A note has at most 300 characters.' })
  note!: string;
  @IsArray()
  @ArrayMinSize(1, { message: 'Nothing is drawn yet.' })
  @ArrayMaxSize(2000, { message: 'At most 2000 corners.' })
  @ValidateNested({ each: true })
  @Type(() => CornerOf)
  corners!: CornerOf[];
}
