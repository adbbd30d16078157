import { type GridName, type LengthUnit } from '@longheron/core/frames';
import { type Look } from '@longheron/core/cloud';
import { type Given } from '@longheron/contract/declare';
import { type Contents, type GridLayout } from '@longheron/contract/kinds';
import { type EditedCloud } from '../stored';

/** What every report says of the project and of itself: gathered beforehand, so that writing needs no database. */
export interface Account {
  project: {
    name: string;
    purpose: string;
    toleranceM: number;
    planToleranceM?: number;
    classTolerance?: number;
    surfaceToleranceM?: number;
  };
  reference: {
    horizontal: number;
    horizontalName: string;
    plan?: GridName;
    fileHeights?: 'used' | 'left';
    depths?: true;
    surfaceSdM?: number;
    verticalName: string;
    vertical: number;
    geoid?: GridName;
    unit: LengthUnit;
    time: 'gps' | 'utc' | 'local';
    epoch?: number;
    statement: string;
  };
  /** Of every dataset behind the report, raw files first. */
  trail: Array<{
    name: string;
    kind: string;
    revision: number;
    hash: string;
    madeBy: string;
    madeAt: string;
    bytes: number | null;
    from: string[];
    settings: Given | null;
    outOfDate: string | null;
  }>;
  notices: Array<{
    dataset: string;
    severity: string;
    text: string;
    effect?: string;
    remedy?: string;
    state: string;
    reason: string | null;
  }>;
  version: string;
  date: string;
  /** The report that this one takes the place of. */
  before: NonNullable<Contents['report']['summary']> | null;
  /** Clouds that parts speak of, with their revisions, by the name of the part. */
  clouds: { [part: string]: string };
  /** Where the checked cloud was looked at; null when nobody has. */
  looked: { cloud: string; edited: EditedCloud; looks: Look[] } | null;
  /** Of the cloud that everything was made of, as it was placed. */
  density: (Omit<NonNullable<Contents['point-cloud']['density']>, 'layout'> & { layout: GridLayout }) | null;
  /** Pictures that a person put into the report. */
  views: Array<{ object: string; caption: string }>;
  /** Names by the role under which a trajectory was made of them. */
  sources: { [role: string]: string[] };
  /** What was noted of recordings; only what is filled in. */
  sheets: Array<{ name: string; rows: Array<[string, string]> }>;
  /** Revision of what the report is on. */
  revision: number;
}
