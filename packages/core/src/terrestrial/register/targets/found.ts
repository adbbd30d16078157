import { type Vector3 } from '../../../numeric/matrix3';

/** A target that was found in a scan, in the scan's frame, metres. */
export interface FoundTarget {
  kind: 'sphere' | 'disc';
  atM: Vector3;
  /** 1 SD of each coordinate. */
  sdM: number;
  points: number;
  rmsM: number;
}
