import { kind } from '../declare/kind';
import { type Given } from '../declare/settings';

/** What a report says in short, to be compared with the next. */
export interface ReportSummary {
  trail: Array<{ name: string; revision: number; hash: string; settings: Given | null }>;
  reference: { horizontal: number; vertical: number; unit: string; epoch?: number; geoid?: string; plan?: string };
  toleranceM: number;
  rmseM: number | null;
  checkMarks: number;
  revision?: number;
}

export interface Content {
  pdf: string;
  bytes: number;
  pages: number;
  figures: { rmse_m?: number | null; within_tolerance?: number | null };
  summary?: ReportSummary;
}

export default kind<Content>({
  name: 'Report',
  counts: 'pages',
  card: ({ pages }) => `${pages} pages`,
  exports: { pdf: { label: 'PDF', extension: 'pdf', type: 'application/pdf', object: (c) => c.pdf } },
});
