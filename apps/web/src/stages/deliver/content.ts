import { type GridLayout } from '../../views3d/extras';

export interface StoredExport {
  sha256: string;
  bytes: number;
}

/** Content of a terrain model's revision. */
export interface SurfaceContent {
  figures: {
    points: number;
    triangles: number;
    cells: number;
    empty_cells: number;
    height_min_m: number | null;
    height_max_m: number | null;
    contours: number;
    cell_m: number;
    max_gap_m: number;
    contour_interval_m: number;
    tin_spacing_m?: number;
  };
  exports: Record<string, StoredExport>;
  picture: string;
  pictures?: { highest: string; above: string };
  highestGrid?: string;
  grid: string;
  layout: GridLayout;
  tin?: {
    object: string;
    vertices: number;
    triangles: number;
    origin: [number, number, number];
    lossRmsM: number;
    lossMaxM: number;
  };
}
