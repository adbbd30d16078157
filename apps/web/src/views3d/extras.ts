import * as THREE from 'three';
import { sample, VIRIDIS } from '../ui/colour';

export interface GridLayout {
  cellM: number;
  westM: number;
  northM: number;
  columns: number;
  rows: number;
}

/** Most cells of a terrain mesh; larger grids are drawn at every second, third, … cell. */
const MAX_CELLS = 250_000;

/** A shaded mesh of a height grid about the cloud's origin; empty cells stay holes. */
export function terrainMesh(heightM: Float32Array, layout: GridLayout, origin: number[]): THREE.Mesh {
  const step = Math.max(1, Math.ceil(Math.sqrt((layout.columns * layout.rows) / MAX_CELLS)));
  const columns = Math.floor((layout.columns - 1) / step) + 1;
  const rows = Math.floor((layout.rows - 1) / step) + 1;
  const position = new Float32Array(3 * columns * rows);
  const colour = new Float32Array(3 * columns * rows);
  const index: number[] = [];
  const sorted = heightM.filter((h) => Number.isFinite(h)).sort();
  const low = sorted[Math.floor(sorted.length * 0.02)] ?? 0;
  const high = sorted[Math.floor(sorted.length * 0.98)] ?? 1;
  const at = (r: number, c: number) => heightM[r * step * layout.columns + c * step];
  for (let r = 0; r < rows; r++)
    for (let c = 0; c < columns; c++) {
      const k = r * columns + c;
      const h = at(r, c);
      position[3 * k] = layout.westM + (c * step + 0.5) * layout.cellM - origin[0];
      position[3 * k + 1] = layout.northM - (r * step + 0.5) * layout.cellM - origin[1];
      position[3 * k + 2] = Number.isFinite(h) ? h - origin[2] : 0;
      if (!Number.isFinite(h)) continue;
      const rgb = sample(VIRIDIS, (h - low) / Math.max(1e-6, high - low));
      for (let j = 0; j < 3; j++) colour[3 * k + j] = rgb[j] / 255;
      if (r === 0 || c === 0) continue;
      const [nw, ne, sw, se] = [k - columns - 1, k - columns, k - 1, k];
      if (![at(r - 1, c - 1), at(r - 1, c), at(r, c - 1), h].every(Number.isFinite)) continue;
      index.push(nw, sw, ne, ne, sw, se);
    }
  const g = new THREE.BufferGeometry();
  g.setAttribute('position', new THREE.BufferAttribute(position, 3));
  g.setAttribute('color', new THREE.BufferAttribute(colour, 3));
  g.setIndex(index);
  g.computeVertexNormals();
  return new THREE.Mesh(g, new THREE.MeshLambertMaterial({ vertexColors: true, side: THREE.DoubleSide }));
}

/** Triangle edges of a TIN about the cloud's origin. Vertices are metres about `tinOrigin`. */
export function tinEdges(
  vertices: Float32Array,
  triangles: Uint32Array,
  tinOrigin: number[],
  origin: number[],
): THREE.LineSegments {
  const g = new THREE.BufferGeometry();
  g.setAttribute('position', new THREE.BufferAttribute(vertices, 3));
  const edges = new Uint32Array(triangles.length * 2);
  let n = 0;
  for (let t = 0; t < triangles.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const a = triangles[t + k];
      const b = triangles[t + ((k + 1) % 3)];
      // an inner edge belongs to two triangles and runs once each way; the rim runs one way only
      edges[n++] = a;
      edges[n++] = b;
    }
  g.setIndex(new THREE.BufferAttribute(edges, 1));
  const lines = new THREE.LineSegments(g, new THREE.LineBasicMaterial({ color: 0x9fb3b8 }));
  lines.position.set(tinOrigin[0] - origin[0], tinOrigin[1] - origin[1], tinOrigin[2] - origin[2]);
  return lines;
}

interface ContourFeature {
  geometry: { coordinates: number[][] };
  properties: { height_m: number; index?: boolean };
}

/** Contours at their heights, a hand's breadth above, so that the terrain does not hide them. */
export function contourLines(
  collection: { features: ContourFeature[] },
  origin: number[],
  style: { colour: string; indexColour: string },
): THREE.Group {
  const group = new THREE.Group();
  for (const [wanted, colour] of [
    [false, style.colour],
    [true, style.indexColour],
  ] as const) {
    const position: number[] = [];
    for (const f of collection.features) {
      if (!!f.properties.index !== wanted) continue;
      const h = f.properties.height_m - origin[2] + 0.06;
      const line = f.geometry.coordinates;
      for (let i = 1; i < line.length; i++)
        position.push(
          line[i - 1][0] - origin[0],
          line[i - 1][1] - origin[1],
          h,
          line[i][0] - origin[0],
          line[i][1] - origin[1],
          h,
        );
    }
    const g = new THREE.BufferGeometry();
    g.setAttribute('position', new THREE.Float32BufferAttribute(position, 3));
    group.add(new THREE.LineSegments(g, new THREE.LineBasicMaterial({ color: onDark(colour) })));
  }
  return group;
}

/** Colours chosen for a white map are raised to be seen on the dark ground of the 3D view. */
function onDark(colour: string): THREE.Color {
  const c = new THREE.Color(colour);
  const { h, s, l } = c.getHSL({ h: 0, s: 0, l: 0 });
  return l < 0.55 ? c.setHSL(h, s, 0.55 + 0.3 * l) : c;
}

/** A line through project coordinates. */
export function polyline(points: Array<[number, number, number]>, origin: number[], colour: number): THREE.Line {
  const g = new THREE.BufferGeometry();
  g.setAttribute(
    'position',
    new THREE.Float32BufferAttribute(
      points.flatMap((p) => p.map((v, k) => v - origin[k])),
      3,
    ),
  );
  return new THREE.Line(g, new THREE.LineBasicMaterial({ color: colour, depthTest: false }));
}

/** Light for terrain meshes: from the north-west, as in hill shading. */
export function lights(): THREE.Group {
  const group = new THREE.Group();
  const sun = new THREE.DirectionalLight(0xffffff, 2.9);
  sun.position.set(-1, 1, 1.4);
  group.add(sun, new THREE.AmbientLight(0xffffff, 1.1));
  return group;
}

export function disposeTree(object: THREE.Object3D): void {
  object.traverse((o) => {
    const m = o as THREE.Mesh;
    m.geometry?.dispose();
    for (const material of ([] as THREE.Material[]).concat(m.material ?? [])) material.dispose();
  });
}
