import { type Look } from '@longheron/core/cloud';
import { type EditedCloud } from '../jobs/tasks/edit';
import { type ReportSummary } from './changes';
import { type ClassProof } from './classes';
import { type CoverageProof } from './coverage';
import { type PlanProof, type StripProof } from './proofs';

/** What every report is written from: everything is gathered beforehand, so that writing needs no database. */
export interface ReportBase {
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
}

/** The report on a terrain model and its height check. */
export interface ReportData extends ReportBase {
  /** The report that this one takes the place of. */
  before: ReportSummary | null;
  check: { name: string; figures: Record<string, never>; cloud: string };
  plan: PlanProof | null;
  strips: StripProof | null;
  coverage: CoverageProof | null;
  classes: ClassProof | null;
  /** Where the checked cloud was looked at; null when nobody has. */
  looked: { cloud: string; edited: EditedCloud; looks: Look[] } | null;
  surface: {
    name: string;
    figures: Record<string, number | null>;
    exports: Record<string, { sha256: string; bytes: number }>;
    tin: { vertices: number; triangles: number; lossRmsM: number; lossMaxM: number } | null;
    layout: { cellM: number; westM: number; northM: number; columns: number; rows: number };
  };
  place: { figures: Record<string, never> } | null;
  density: { medianPerM2: number; targetPerM2: number; belowShare: number; coveredM2: number } | null;
  /** Object hashes. */
  pictures: {
    relief: string;
    density: string | null;
    coverage: string | null;
    views: Array<{ object: string; caption: string }>;
  };
}

/** The report on a trajectory. */
export interface TrajectoryReportData extends ReportBase {
  trajectory: {
    name: string;
    revision: number;
    /** What it is the path of: `imu`, `antenna` or a name. */
    point: string;
    /** Of the computation; null for one that was taken in. */
    figures: Record<string, never> | null;
    /** Objects with the plots and the sky. */
    preview: string;
    sky: string | null;
    rover: string[];
    base: string[];
    /** What was noted of the sessions; only what is filled in. */
    sheets: Array<{ name: string; rows: Array<[string, string]> }>;
  };
}
