import 'reflect-metadata';
import { ArrayMaxSize, IsArray, IsInt, IsOptional, IsString, Min } from 'class-validator';

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

export class TakeServerFiles {
  @IsArray()
  @ArrayMaxSize(20_000, { message: 'At most 20 000 files at once.' })
  @IsString({ each: true })
  paths!: string[];
}
