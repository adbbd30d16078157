import { type Mark } from '@longheron/core/accuracy';
import { extentDrawing, kind, rawExport, type FileContent } from '../declare/kind';
import { type NetworkContent } from './parts/network';
import { type TraverseFigures } from './parts/traverse';
import { type GuessedColumns } from './table';

/** A stop of which a mark was made: times in seconds of the week, deviations 1 SD in metres (east, north, height). */
export interface StopContent {
  name: string;
  startSow: number;
  endSow: number;
  epochs: number;
  used: number;
  solution: 'fixed' | 'float' | 'code';
  sdM: [number, number, number];
  near: { name: string; differenceM: [number, number, number] } | null;
}

export interface Content extends Omit<FileContent, 'bytes'> {
  bytes?: number;
  marks: Mark[];
  crs: string | null;
  /** The revision that it was carried from into another system, and the system it was in; until somebody changes it. */
  carriedFrom?: { revision: number; label: string; hash: string };
  /** What gave the roles, for the trail. */
  how?: string;
  mapping?: GuessedColumns;
  table?: { header: string[]; rows: string[][]; count: number };
  stops?: StopContent[];
  network?: NetworkContent;
  traverse?: TraverseFigures;
}

/** Only compared with: roles and notes change nothing. */
const comparedBy = (role: string, { marks }: Content) =>
  role === 'known' ? marks.map((m) => [m.name, m.eastingM, m.northingM, m.heightM]) : undefined;

export default kind<Content>({
  name: 'Marks',
  counts: 'marks',
  exports: {
    ...rawExport,
    marks: {
      label: 'Marks, CSV',
      extension: 'csv',
      type: 'text/csv',
      object: (c) => c.object,
      there: (c) => !!c.stops || !!c.network || !!c.traverse,
    },
  },
  onMap: extentDrawing,
  comparedBy,
});
