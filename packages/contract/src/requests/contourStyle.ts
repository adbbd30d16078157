import { IsBoolean, IsInt, IsNotEmpty, IsNumber, IsString, Matches, Max, MaxLength, Min } from 'class-validator';

/** How contours look, under a name of its own; kept for all projects. */
export class ContourStyle {
  @IsString()
  @IsNotEmpty({ message: 'A style needs a name.' })
  @MaxLength(60, { message: 'A name has at most 60 characters.' })
  name!: string;
  @Matches(/^#[0-9a-f]{6}$/i, { message: 'The colour of lines is six digits after a #.' })
  colour!: string;
  @Matches(/^#[0-9a-f]{6}$/i, { message: 'The colour of index lines is six digits after a #.' })
  indexColour!: string;
  @IsNumber({}, { message: 'The width of lines is a number.' })
  @Min(0.2, { message: 'The width of lines is 0.2 to 5 px.' })
  @Max(5, { message: 'The width of lines is 0.2 to 5 px.' })
  widthPx!: number;
  @IsNumber({}, { message: 'The width of index lines is a number.' })
  @Min(0.2, { message: 'The width of index lines is 0.2 to 5 px.' })
  @Max(5, { message: 'The width of index lines is 0.2 to 5 px.' })
  indexWidthPx!: number;
  @IsInt({ message: 'The decimals of heights are a whole number.' })
  @Min(0, { message: 'Heights have 0 to 3 decimals.' })
  @Max(3, { message: 'Heights have 0 to 3 decimals.' })
  decimals!: number;
  /** Heights written on index lines. */
  @IsBoolean()
  heights!: boolean;
}

/** The styles that are always there. */
export const CONTOUR_STYLES: readonly ContourStyle[] = [
  {
    name: 'Brown, heights on index lines',
    colour: '#8a6a45',
    indexColour: '#5a3a1c',
    widthPx: 0.7,
    indexWidthPx: 1.4,
    decimals: 2,
    heights: true,
  },
  {
    name: 'Grey, no heights',
    colour: '#8b9296',
    indexColour: '#4a5257',
    widthPx: 0.6,
    indexWidthPx: 1,
    decimals: 2,
    heights: false,
  },
];
