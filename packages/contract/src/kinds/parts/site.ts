/** A mark in the calibration of a site: computed less given in metres; null where it has no part in it. */
export interface SiteMark {
  name: string;
  eM: number | null;
  nM: number | null;
  planM: number | null;
  hM: number | null;
  /** By how much it would be missed were it not used. */
  missPlanM: number | null;
  missHeightM: number | null;
  /** Why it stands out, or was left out; '' otherwise. */
  says: string;
}

/** A local system, or heights of its own, as they were found: metres, arc seconds, parts per million, mm per km. */
export interface SiteContent {
  name: string;
  kind: 'calibration' | 'ground' | 'projection' | 'chart datum';
  plan?: {
    scalePpm: number;
    turnSec: number;
    shiftM: [number, number];
    sdM: number | null;
    sdShiftM: number | null;
    sdTurnSec: number | null;
    sdScalePpm: number | null;
    redundancy: number;
  };
  heights?: {
    offsetM: number;
    slopeNorthMmKm: number;
    slopeEastMmKm: number;
    sdM: number | null;
    sdOffsetM: number | null;
    redundancy: number;
    depths: boolean;
  };
  marks: SiteMark[];
  /** What it was made of, line by line: name and value. */
  facts: Array<[string, string]>;
}
