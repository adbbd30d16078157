import { IsIn, IsNumber, IsOptional, IsString, Max, MaxLength, Min } from 'class-validator';

/** A place typed as latitude and longitude, with a height of a stated kind. */
export class Locate {
  @IsString({ message: 'Type the latitude.' })
  @MaxLength(60, { message: 'Type the latitude.' })
  latitude!: string;
  @IsString({ message: 'Type the longitude.' })
  @MaxLength(60, { message: 'Type the longitude.' })
  longitude!: string;
  @IsOptional()
  @IsNumber({}, { message: 'The height is a number.' })
  heightM?: number;
  @IsIn(['ellipsoidal', 'project'], { message: 'Say what the height refers to.' })
  heightIs!: 'ellipsoidal' | 'project';
}

/** A point whose heights above the ellipsoid and above the sea are both known, metres. */
export class KnownPoint {
  @IsString({ message: 'Type the latitude.' })
  @MaxLength(60, { message: 'Type the latitude.' })
  latitude!: string;
  @IsString({ message: 'Type the longitude.' })
  @MaxLength(60, { message: 'Type the longitude.' })
  longitude!: string;
  @IsNumber({}, { message: 'Type the height above the ellipsoid.' })
  @Min(-1000, { message: 'Type the height above the ellipsoid.' })
  @Max(10000, { message: 'Type the height above the ellipsoid.' })
  hEllM!: number;
  @IsNumber({}, { message: 'Type the levelled height.' })
  @Min(-1000, { message: 'Type the levelled height.' })
  @Max(10000, { message: 'Type the levelled height.' })
  heightM!: number;
}
