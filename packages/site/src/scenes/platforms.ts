import { type Random } from '@longheron/core/numeric';
import { landHeight } from './land';
import { type Found, type Scanner, type Scene } from './scan';

/** A vehicle along the x axis: profiles across the road by one or two slanted heads. */
export interface Drive {
  passes: number;
  speedMS: number;
  profilesHz: number;
  beams: number;
  heightM: number;
  slantRad: number;
}

export function drive(scene: Scene, halfM: number, how: Drive, scanner: Scanner, out: Found, r: Random): void {
  for (let pass = 0; pass < how.passes; pass++) {
    const side = (pass % 2 === 0 ? 1 : -1) * 1.7;
    const head = pass % 2 === 0 ? 1 : -1;
    for (let x = -halfM; x <= halfM; x += how.speedMS / how.profilesHz) {
      const o = [x, side, landHeight(scene.land, x, side) + how.heightM];
      const first = r.between(0, (2 * Math.PI) / how.beams);
      for (let k = 0; k < how.beams; k++) {
        const a = first + (2 * Math.PI * k) / how.beams;
        const [across, up] = [Math.sin(a), Math.cos(a)];
        // the plane of the profile stands slanted to the way
        scene.beam(o, [across * Math.sin(how.slantRad) * head, across * Math.cos(how.slantRad), up], scanner, out);
      }
    }
  }
}

/** An aircraft in lines across the scene. */
export interface Flight {
  lines: number;
  heightM: number;
  halfAngleRad: number;
  /** Distance of pulses on the ground, metres. */
  spacingM: number;
}

export function fly(scene: Scene, halfM: [number, number], how: Flight, scanner: Scanner, out: Found, r: Random): void {
  const top = landHeight(scene.land, 0, 0) + how.heightM;
  const way = r.between(0, Math.PI);
  const [ux, uy] = [Math.cos(way), Math.sin(way)];
  const reach = Math.hypot(...halfM);
  for (let line = 0; line < how.lines; line++) {
    const offset = how.lines === 1 ? 0 : reach * ((2 * line) / (how.lines - 1) - 1) * 0.6;
    const swath = Math.tan(how.halfAngleRad) * how.heightM;
    for (let s = -reach; s <= reach; s += how.spacingM) {
      const o = [s * ux - offset * uy, s * uy + offset * ux, top];
      for (let v = -swath; v <= swath; v += how.spacingM) {
        const c = v + how.spacingM * r.between(-0.4, 0.4);
        const along = how.spacingM * r.between(-0.4, 0.4);
        const d = [along * ux - c * uy, along * uy + c * ux, -how.heightM];
        const norm = Math.hypot(d[0], d[1], d[2]);
        scene.beam(o, [d[0] / norm, d[1] / norm, d[2] / norm], scanner, out);
      }
    }
  }
}
