import { kind, rawExport, type FileContent } from '../declare/kind';

/** Which column of a table of marks holds what, as guessed. */
export interface GuessedColumns {
  name: number;
  easting: number;
  northing: number;
  height: number;
  role?: number;
  sdE?: number;
  sdN?: number;
  sdH?: number;
  note?: number;
  unit: 'metre' | 'foot' | 'usSurveyFoot';
  defaultRole: 'control' | 'check' | 'unused';
  decimalComma: boolean;
}

export interface Content extends FileContent {
  table?: { header: string[]; rows: string[][]; count: number };
  mapping?: GuessedColumns | null;
  crs?: string | null;
}

export default kind<Content>({ name: 'Table', counts: 'rows', exports: rawExport });
