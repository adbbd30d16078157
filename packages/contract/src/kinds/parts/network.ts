/** An adjusted network as a job leaves it: metres; north, east, down. */
export interface NetworkContent {
  points: Array<{
    name: string;
    held: boolean;
    checked: boolean;
    eastingM: number;
    northingM: number;
    heightM: number;
    latDeg: number;
    lonDeg: number;
    hEllM: number;
    sdM: number[];
    movedM: number[] | null;
    ellipse: { majorM: number; minorM: number; bearingRad: number };
  }>;
  observations: Array<{
    kind: 'vector' | 'distance' | 'height';
    from: string;
    to: string;
    lengthM: number;
    residualM: number[];
    redundancy: number;
    test: number | null;
    valueM: number | number[] | null;
    sdM: number[] | null;
    solution?: 'fixed' | 'float' | 'code';
    fixedShare?: number;
    spanS?: number;
    startGps?: number;
    files?: string[];
    scatterM?: number;
    epochs?: number;
    used?: number;
  }>;
  loops: Array<{ names: string[]; kind: string; lengthM: number; misclosureM: number[]; sdM: number[] }>;
  freedom: number;
  varianceFactor: number | null;
  expected: [number, number] | null;
  scale: number;
}
