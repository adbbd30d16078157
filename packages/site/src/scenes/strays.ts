import { type Random } from '@longheron/core/numeric';
import { landHeight } from './land';
import { FROM, type Found, type Scene } from './scan';

/** Nothing else lies this near to a lone stray, metres. */
const ALONE_M = 1.5;

/**
 * Adds points that met nothing: high above, under the ground, and before the surface on a beam's way. Lone ones stand
 * clear of everything else; groups of two to four lie within some decimetres of each other.
 */
export function addStrays(
  scene: Scene,
  found: Found,
  n: { above: number; below: number; along: number; grouped: number },
  halfM: [number, number],
  eyes: number[][],
  r: Random,
): void {
  const good = found.x.length;
  const near = new Near(found, ALONE_M);
  const put = (place: number[]): void => {
    if (!near.clear(place)) return;
    if (r.uniform() < n.grouped) {
      const more = 2 + Math.floor(3 * r.uniform());
      for (let k = 0; k < more; k++) {
        const beside = place.map((v) => v + r.between(-0.3, 0.3));
        found.add(beside, FROM.groupStray, [0, 0, 0]);
        near.put(found.x.length - 1);
      }
    } else {
      found.add(place, FROM.loneStray, [0, 0, 0]);
      near.put(found.x.length - 1);
    }
  };
  const count = (perMillion: number) => Math.round((perMillion * good) / 1e6);
  // strays come where points come from: below and above a place that was seen
  const seen = () => Math.floor(good * r.uniform());
  for (let k = 0; k < count(n.above); k++) {
    const i = seen();
    put([found.x[i], found.y[i], landHeight(scene.land, found.x[i], found.y[i]) + r.between(5, 60)]);
  }
  for (let k = 0; k < count(n.below); k++) {
    const i = seen();
    const [x, y] = [found.x[i], found.y[i]].map((v, a) => Math.max(-halfM[a], Math.min(halfM[a], v)));
    put([x, y, landHeight(scene.land, x, y) - r.between(1, 15)]);
  }
  for (let k = 0; k < count(n.along); k++) {
    const i = seen();
    const eye = eyes.reduce((a, b) =>
      Math.hypot(a[0] - found.x[i], a[1] - found.y[i]) < Math.hypot(b[0] - found.x[i], b[1] - found.y[i]) ? a : b,
    );
    const u = r.between(0.3, 0.95);
    put([found.x[i], found.y[i], found.z[i]].map((v, a) => eye[a] + u * (v - eye[a])));
  }
}

/** Whether anything lies within a distance, by cubes of that edge. */
class Near {
  private readonly cubes = new Map<string, number[]>();

  constructor(
    private readonly found: Found,
    private readonly farM: number,
  ) {
    for (let i = 0; i < found.x.length; i++) this.put(i);
  }

  put(i: number): void {
    const key = this.key(this.found.x[i], this.found.y[i], this.found.z[i]);
    const there = this.cubes.get(key);
    if (there) there.push(i);
    else this.cubes.set(key, [i]);
  }

  clear([x, y, z]: number[]): boolean {
    const f = this.farM;
    for (const dx of [-f, 0, f])
      for (const dy of [-f, 0, f])
        for (const dz of [-f, 0, f])
          for (const i of this.cubes.get(this.key(x + dx, y + dy, z + dz)) ?? []) {
            const d = Math.hypot(this.found.x[i] - x, this.found.y[i] - y, this.found.z[i] - z);
            if (d < f) return false;
          }
    return true;
  }

  private key(x: number, y: number, z: number): string {
    return [x, y, z].map((v) => Math.floor(v / this.farM)).join();
  }
}
