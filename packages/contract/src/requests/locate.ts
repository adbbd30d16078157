import { IsIn, IsNumber, IsOptional, IsString, MaxLength } from 'class-validator';

/** A place typed as latitude and longitude, with a height of a stated kind. */
export class Locate {
  @IsString({ message: 'Type the latitude.' })
  @MaxLength(60)
  latitude!: string;
  @IsString({ message: 'Type the longitude.' })
  @MaxLength(60)
  longitude!: string;
  @IsOptional()
  @IsNumber({}, { message: 'The height is a number.' })
  heightM?: number;
  @IsIn(['ellipsoidal', 'project'], { message: 'Say what the height refers to.' })
  heightIs!: 'ellipsoidal' | 'project';
}
