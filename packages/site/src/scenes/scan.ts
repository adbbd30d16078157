import { type Random } from '@longheron/core/numeric';
import { type Land, landHeight } from './land';
import { meetBox, meetPost, NOTHING, throughCrown, type Things } from './things';

/** What a point came from. */
export const FROM = { land: 0, thing: 1, plant: 2, wire: 3, loneStray: 4, groupStray: 5 } as const;

/** Points as they grow: where the beam truly met something, and what. */
export class Found {
  readonly x: number[] = [];
  readonly y: number[] = [];
  readonly z: number[] = [];
  readonly from: number[] = [];
  /** Noise of the point, metres: along the beam and across it. */
  readonly noise: Array<[number, number, number]> = [];

  add(place: readonly number[], from: number, noise: [number, number, number]): void {
    this.x.push(place[0]);
    this.y.push(place[1]);
    this.z.push(place[2]);
    this.from.push(from);
    this.noise.push(noise);
  }
}

export interface Scanner {
  rangeSdM: number;
  angleSdRad: number;
  farthestM: number;
  /** Share of beams that go on after they met part of a plant, and how many returns one beam gives at most. */
  goesOn: number;
  echoes: number;
  /** Mean of what grass holds a return above the ground, metres. */
  grassM: number;
  /** Share of dark or wet places that send nothing back. */
  lost: number;
}

/** Sends beams into a scene and keeps what comes back. */
export class Scene {
  constructor(
    readonly land: Land,
    readonly things: Things,
    private readonly halfM: [number, number],
    private readonly r: Random,
  ) {}

  /** One beam from a place in a unit direction. */
  beam(o: readonly number[], d: readonly number[], scanner: Scanner, out: Found): void {
    const { r } = this;
    if (r.uniform() < scanner.lost) return;
    const hard = this.nearestThing(o, d);
    const ground = this.meetLand(o, d, Math.min(scanner.farthestM, hard));
    const end = Math.min(hard, ground);
    const noise = (t: number): [number, number, number] => {
      const range = scanner.rangeSdM * r.normal();
      const [a, b, c] = [r.normal(), r.normal(), r.normal()].map((v) => v * scanner.angleSdRad * t);
      return [range * d[0] + a, range * d[1] + b, range * d[2] + c];
    };
    const at = (t: number) => [o[0] + t * d[0], o[1] + t * d[1], o[2] + t * d[2]];
    let echoes = 0;
    for (const t of this.leaves(o, d, Math.min(end, scanner.farthestM))) {
      if (this.inside(at(t))) out.add(at(t), FROM.plant, noise(t));
      echoes++;
      if (echoes >= scanner.echoes || r.uniform() > scanner.goesOn) return;
    }
    if (end > scanner.farthestM) return;
    const place = at(end);
    if (!this.inside(place)) return;
    if (hard < ground) out.add(place, FROM.thing, noise(end));
    else {
      // grass holds some of the light up
      if (scanner.grassM > 0 && r.uniform() < 0.5) place[2] += -scanner.grassM * Math.log(1 - r.uniform());
      out.add(place, FROM.land, noise(end));
    }
  }

  /** Points along the wires, which a beam seldom meets: as many as their spacing says. */
  wires(out: Found, scanner: Scanner): void {
    for (const w of this.things.wires) {
      const length = Math.hypot(w.to[0] - w.from[0], w.to[1] - w.from[1]);
      for (let s = 0; s < length; s += w.spacingM * this.r.between(0.6, 1.4)) {
        const u = s / length;
        const place = [0, 1, 2].map((k) => w.from[k] + u * (w.to[k] - w.from[k]));
        place[2] -= 4 * w.sagM * u * (1 - u);
        const sd = scanner.rangeSdM;
        out.add(place, FROM.wire, [sd * this.r.normal(), sd * this.r.normal(), sd * this.r.normal()]);
      }
    }
  }

  private inside(place: readonly number[]): boolean {
    return Math.abs(place[0]) <= this.halfM[0] && Math.abs(place[1]) <= this.halfM[1];
  }

  private nearestThing(o: readonly number[], d: readonly number[]): number {
    const { boxes, posts, plants } = this.things;
    const level = Math.hypot(d[0], d[1]);
    const passes = (x: number, y: number, far: number): boolean => {
      const side = Math.abs((x - o[0]) * d[1] - (y - o[1]) * d[0]);
      return side <= far * level && (x - o[0]) * d[0] + (y - o[1]) * d[1] > -far * level;
    };
    let best = NOTHING;
    for (const b of boxes) if (passes(b.x, b.y, Math.hypot(b.halfX, b.halfY))) best = Math.min(best, meetBox(b, o, d));
    for (const p of posts) if (passes(p.x, p.y, p.radiusM)) best = Math.min(best, meetPost(p, o, d));
    for (const p of plants)
      if (p.trunkM > 0 && passes(p.x, p.y, p.trunkM))
        best = Math.min(best, meetPost({ x: p.x, y: p.y, radiusM: p.trunkM, footM: p.footM, topM: p.middleM }, o, d));
    return best;
  }

  /** Distances of the returns from leaves, in order. */
  private leaves(o: readonly number[], d: readonly number[], end: number): number[] {
    const met: number[] = [];
    const level = Math.hypot(d[0], d[1]);
    for (const p of this.things.plants) {
      if (Math.abs((p.x - o[0]) * d[1] - (p.y - o[1]) * d[0]) > p.radiusM * level) continue;
      const way = throughCrown(p, o, d);
      if (!way) continue;
      for (let t = way[0] - Math.log(1 - this.r.uniform()) / p.perM; t < Math.min(way[1], end);) {
        met.push(t);
        t += 0.3 - Math.log(1 - this.r.uniform()) / p.perM;
      }
    }
    return met.sort((a, b) => a - b);
  }

  /** First meeting with the land, by steps that shorten near it and halving once below it. */
  private meetLand(o: readonly number[], d: readonly number[], limit: number): number {
    const { land } = this;
    const above = (t: number) => o[2] + t * d[2] - landHeight(land, o[0] + t * d[0], o[1] + t * d[1]);
    let t = 0;
    let gap = above(0);
    if (gap <= 0) return NOTHING;
    while (t < limit) {
      const next = t + Math.max(0.1, 0.3 * gap);
      gap = above(next);
      if (gap <= 0) {
        let [low, high] = [t, next];
        for (let k = 0; k < 30; k++) {
          const middle = (low + high) / 2;
          if (above(middle) > 0) low = middle;
          else high = middle;
        }
        return high <= limit ? high : NOTHING;
      }
      t = next;
    }
    return NOTHING;
  }
}
