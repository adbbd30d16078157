/** What a report is written from: everything is gathered beforehand, so that writing needs no database. */
export interface ReportData {
  project: { name: string; purpose: string; toleranceM: number };
  reference: {
    horizontal: number;
    horizontalName: string;
    verticalName: string;
    vertical: number;
    unit: 'metre' | 'foot' | 'usSurveyFoot';
    time: string;
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
    settings: Record<string, unknown> | null;
    outOfDate: string | null;
  }>;
  check: { name: string; figures: Record<string, never>; cloud: string };
  surface: {
    name: string;
    figures: Record<string, number | null>;
    exports: Record<string, { sha256: string; bytes: number }>;
    tin: { vertices: number; triangles: number; lossRmsM: number; lossMaxM: number } | null;
    layout: { cellM: number; westM: number; northM: number; columns: number; rows: number };
  };
  place: { figures: Record<string, never> } | null;
  density: { medianPerM2: number; targetPerM2: number; belowShare: number; coveredM2: number } | null;
  notices: Array<{
    dataset: string;
    severity: string;
    text: string;
    effect?: string;
    remedy?: string;
    state: string;
    reason: string | null;
  }>;
  /** Object hashes. */
  pictures: { relief: string; density: string | null; views: Array<{ object: string; caption: string }> };
  version: string;
  date: string;
}
