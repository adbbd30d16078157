import 'reflect-metadata';
import { IsObject, IsOptional, IsString, Matches, MaxLength } from 'class-validator';
import { type MountingJson } from '@longheron/core/frames';

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
