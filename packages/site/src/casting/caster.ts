import { Random } from '@longheron/core/numeric';
import { KIND, siteObjects, soffitAt, wireHeight, type SiteObject } from '../objects';
import { groundAt, lastSurface, SITE_LENGTH_M, SITE_WIDTH_M, SURFACE } from '../terrain';
import { Ray } from './ray';

const CELL = 2;
const COLUMNS = SITE_WIDTH_M / CELL;
const ROWS = SITE_LENGTH_M / CELL;
/** Below this the reach is water, which gives no return. */
const WATER_LEVEL_M = 0.1;
const MAX_ECHOES = 3;
/** A beam from above is looked at from this far over the highest thing on. */
const OVER_M = 2;
/** Echoes nearer to each other than this merge. */
const ECHO_SEPARATION_M = 0.6;

/** Echoes of one beam, in order of range. */
export interface Echoes {
  count: number;
  s: Float64Array;
  kind: Uint8Array;
}

/**
 * Casts beams against ground and objects. The ground is found to 1e-7 m along the beam by bracketing and secants on
 * the exact polynomial; plane, cylinder and wire by the straight line (0.1 mm at 40 m).
 */
export class Caster {
  private readonly objects: SiteObject[] = siteObjects();
  private readonly seen = new Int32Array(this.objects.length).fill(-1);
  private stamp = 0;
  private readonly cellObjects: Int32Array[];
  private readonly cellTop = new Float32Array(COLUMNS * ROWS);
  /** Highest thing in the neighbourhood, to let sky beams go early. */
  private readonly highest: number;
  readonly echoes: Echoes;
  private readonly lower = new Ray();
  /** Of a beam from above: what comes before the part that is looked at. */
  private aboveM = 0;
  private readonly partS = new Float64Array(16);
  private readonly partKind = new Uint8Array(16);
  private parts = 0;

  constructor(
    private readonly maxRangeM: number,
    private readonly beamRad: number,
    private readonly mostEchoes = MAX_ECHOES,
  ) {
    this.echoes = { count: 0, s: new Float64Array(mostEchoes), kind: new Uint8Array(mostEchoes) };
    const lists: number[][] = Array.from({ length: COLUMNS * ROWS }, () => []);
    let highest = 0;
    this.objects.forEach((object, id) => {
      const b = object.bounds;
      highest = Math.max(highest, b.maxZ);
      for (let r = clampCell(b.minY, ROWS); r <= clampCell(b.maxY, ROWS); r++)
        for (let c = clampCell(b.minX, COLUMNS); c <= clampCell(b.maxX, COLUMNS); c++) lists[r * COLUMNS + c].push(id);
    });
    this.highest = Math.max(highest, 12);
    this.cellObjects = lists.map((l) => Int32Array.from(l));
    const fine = 8;
    for (let r = 0; r < ROWS; r++)
      for (let c = 0; c < COLUMNS; c++) {
        let top = -Infinity;
        for (let i = 0; i <= fine; i++)
          for (let j = 0; j <= fine; j++) top = Math.max(top, groundAt((c + i / fine) * CELL, (r + j / fine) * CELL));
        this.cellTop[r * COLUMNS + c] = top + 0.15;
      }
  }

  /** Fills `echoes`. @param random decides where leaves answer. */
  cast(ray: Ray, random: Random): Echoes {
    this.aboveM = 0;
    if (ray.z0 <= this.highest + OVER_M || ray.z1 >= 0) return this.castFrom(ray, random);
    // straight lines of objects bend by millimetres over hundreds of metres: a beam from above begins again near them
    let s = 0;
    for (let i = 0; i < 4; i++) s += (this.highest + OVER_M - ray.z(s)) / ray.z1;
    this.aboveM = s;
    this.lower.fromAlong(ray, s);
    const echoes = this.castFrom(this.lower, random);
    for (let i = 0; i < echoes.count; i++) echoes.s[i] += s;
    return echoes;
  }

  private castFrom(ray: Ray, random: Random): Echoes {
    this.echoes.count = 0;
    this.parts = 0;
    this.stamp++;
    let solid = Infinity;
    let solidKind = -1;
    const { x1, y1 } = ray;
    let column = Math.floor(ray.x0 / CELL);
    let row = Math.floor(ray.y0 / CELL);
    const stepC = x1 > 0 ? 1 : -1;
    const stepR = y1 > 0 ? 1 : -1;
    const perC = Math.abs(CELL / x1);
    const perR = Math.abs(CELL / y1);
    let nextC = Math.abs(((column + (x1 > 0 ? 1 : 0)) * CELL - ray.x0) / x1);
    let nextR = Math.abs(((row + (y1 > 0 ? 1 : 0)) * CELL - ray.y0) / y1);
    let s = 0;
    while (s < this.maxRangeM && s < solid) {
      if (column < 0 || row < 0 || column >= COLUMNS || row >= ROWS) break;
      const z = ray.z(s);
      if (z > this.highest && ray.z1 > 0) break;
      const leave = Math.min(nextC, nextR, this.maxRangeM);
      const at = row * COLUMNS + column;
      const list = this.cellObjects[at];
      for (let k = 0; k < list.length; k++) {
        const id = list[k];
        if (this.seen[id] === this.stamp) continue;
        this.seen[id] = this.stamp;
        const hit = this.meet(this.objects[id], ray, random);
        if (hit < solid) {
          solid = hit;
          solidKind = this.objects[id].kind;
        }
      }
      const top = this.cellTop[at];
      if (z < top || ray.z(leave) < top) {
        const hit = this.ground(ray, s, Math.min(leave, solid));
        if (hit >= 0 && hit < solid) {
          solid = hit;
          solidKind = lastSurface;
          if (ray.z(hit) < WATER_LEVEL_M) {
            solid = hit;
            solidKind = -1;
          }
        }
      }
      s = leave;
      if (nextC <= nextR) {
        column += stepC;
        nextC += perC;
      } else {
        row += stepR;
        nextR += perR;
      }
    }
    return this.collect(solid, solidKind, random, ray);
  }

  /** First root of z − ground in [from, to], −1 when there is none. */
  private ground(ray: Ray, from: number, to: number): number {
    const f0 = ray.z(from) - groundAt(ray.x(from), ray.y(from));
    if (f0 < 0) return from > 0 ? this.refine(ray, Math.max(0, from - 0.3), from) : -1;
    // no ground but the kerb is steeper than 45°: stepping by the gap over the closing speed cannot pass through it
    const closing = 1 / (Math.max(0, -ray.z1) + Math.hypot(ray.x1, ray.y1));
    let a = from;
    let fa = f0;
    while (a < to) {
      const b = Math.min(to, a + Math.max(0.1, fa * closing));
      const fb = ray.z(b) - groundAt(ray.x(b), ray.y(b));
      if (fb <= 0) return this.refine(ray, a, b);
      a = b;
      fa = fb;
    }
    return -1;
  }

  private refine(ray: Ray, low: number, high: number): number {
    let fl = ray.z(low) - groundAt(ray.x(low), ray.y(low));
    let fh = ray.z(high) - groundAt(ray.x(high), ray.y(high));
    if (fl < 0) return -1;
    let side = 0;
    for (let i = 0; i < 60 && high - low > 1e-9; i++) {
      let m = (fl * high - fh * low) / (fl - fh);
      if (!(m > low && m < high) || i % 4 === 3) m = (low + high) / 2;
      const fm = ray.z(m) - groundAt(ray.x(m), ray.y(m));
      if (Math.abs(fm) < 1e-8) return m;
      if (fm > 0) {
        low = m;
        fl = fm;
        if (side === 1) fh /= 2;
        side = 1;
      } else {
        high = m;
        fh = fm;
        if (side === -1) fl /= 2;
        side = -1;
      }
    }
    const m = (low + high) / 2;
    groundAt(ray.x(m), ray.y(m));
    return m;
  }

  /** Distance to a solid object, Infinity when missed; echoes of wires and leaves go to the parts. */
  private meet(object: SiteObject, ray: Ray, random: Random): number {
    switch (object.type) {
      case 'convex': {
        let enter = 0,
          leave = Infinity;
        for (const [nx, ny, nz, d] of object.planes) {
          const along = nx * ray.x1 + ny * ray.y1 + nz * ray.z1;
          const gap = d - (nx * ray.x0 + ny * ray.y0 + nz * ray.z0);
          if (along > 0) leave = Math.min(leave, gap / along);
          else if (along < 0) enter = Math.max(enter, gap / along);
          else if (gap < 0) return Infinity;
        }
        return enter > 0 && enter < leave ? enter : Infinity;
      }
      case 'cylinder': {
        const dx = ray.x0 - object.x,
          dy = ray.y0 - object.y;
        const a = ray.x1 * ray.x1 + ray.y1 * ray.y1;
        const b = dx * ray.x1 + dy * ray.y1;
        const disc = b * b - a * (dx * dx + dy * dy - object.radius * object.radius);
        if (disc <= 0) return Infinity;
        const s = (-b - Math.sqrt(disc)) / a;
        const z = ray.z(s);
        return s > 0 && z > object.minZ && z < object.maxZ ? s : Infinity;
      }
      case 'wire': {
        const det = ray.x1 * object.dirY - ray.y1 * object.dirX;
        if (Math.abs(det) < 1e-3) return Infinity;
        const px = object.x0 - ray.x0,
          py = object.y0 - ray.y0;
        const s = (px * object.dirY - py * object.dirX) / det;
        const t = (px * ray.y1 - py * ray.x1) / det;
        if (s <= 0 || s > this.maxRangeM || t < 0 || t > object.lengthM) return Infinity;
        const dz = ray.z(s) - wireHeight(object, t);
        const plan = Math.abs(det);
        const miss = (Math.abs(dz) * plan) / Math.hypot(plan, ray.z1);
        if (miss < object.radius + (this.beamRad * (s + this.aboveM)) / 2 + 0.004)
          this.addPart(s - object.radius, object.kind);
        return Infinity;
      }
      case 'leaves': {
        let enter = 0,
          leave = Infinity;
        const [cx, cy, cz] = object.centre;
        const [hx, hy, hz] = object.half;
        if (object.shape === 'box') {
          const span = (o: number, d: number, c: number, h: number) => {
            const s1 = (c - h - o) / d,
              s2 = (c + h - o) / d;
            enter = Math.max(enter, Math.min(s1, s2));
            leave = Math.min(leave, Math.max(s1, s2));
          };
          span(ray.x0, ray.x1, cx, hx);
          span(ray.y0, ray.y1, cy, hy);
          span(ray.z0, ray.z1, cz, hz);
        } else {
          const ox = (ray.x0 - cx) / hx,
            oy = (ray.y0 - cy) / hy,
            oz = (ray.z0 - cz) / hz;
          const dx = ray.x1 / hx,
            dy = ray.y1 / hy,
            dz = ray.z1 / hz;
          const a = dx * dx + dy * dy + dz * dz;
          const b = ox * dx + oy * dy + oz * dz;
          const disc = b * b - a * (ox * ox + oy * oy + oz * oz - 1);
          if (disc <= 0) return Infinity;
          enter = Math.max(0, (-b - Math.sqrt(disc)) / a);
          leave = (-b + Math.sqrt(disc)) / a;
        }
        let s = enter;
        while (leave > enter && this.parts < 14) {
          s += -Math.log(1 - random.uniform()) * object.freePathM;
          if (s >= leave) break;
          this.addPart(s, object.kind);
        }
        return Infinity;
      }
      case 'deck': {
        const b = object.bounds;
        let enter = 0,
          leave = Infinity;
        const span = (o: number, d: number, low: number, high: number) => {
          const s1 = (low - o) / d,
            s2 = (high - o) / d;
          enter = Math.max(enter, Math.min(s1, s2));
          leave = Math.min(leave, Math.max(s1, s2));
        };
        span(ray.x0, ray.x1, b.minX, b.maxX);
        span(ray.y0, ray.y1, b.minY, b.maxY);
        if (enter >= leave) return Infinity;
        const zEnter = ray.z(enter);
        if (zEnter > b.maxZ) {
          if (ray.z1 >= 0) return Infinity;
          let top = enter;
          for (let i = 0; i < 3; i++) top += (b.maxZ - ray.z(top)) / ray.z1;
          return top < leave ? top : Infinity;
        }
        // from below a level or falling beam is not met: the drive looks up at the soffit
        if (ray.z1 <= 0 && this.aboveM === 0) return Infinity;
        if (zEnter >= soffitAt(ray.x(enter), ray.y(enter))) return enter;
        if (ray.z1 <= 0) return Infinity;
        let s = (b.minZ - ray.z0) / ray.z1;
        for (let i = 0; i < 6; i++) s += (soffitAt(ray.x(s), ray.y(s)) - ray.z(s)) / ray.z1;
        return s > enter && s < leave ? s : Infinity;
      }
    }
  }

  private addPart(s: number, kind: number): void {
    if (this.parts < 16 && s > 0.5) {
      this.partS[this.parts] = s;
      this.partKind[this.parts++] = kind;
    }
  }

  private collect(solid: number, solidKind: number, random: Random, ray: Ray): Echoes {
    const { echoes, partS, partKind } = this;
    for (let i = 1; i < this.parts; i++)
      for (let j = i; j > 0 && partS[j - 1] > partS[j]; j--) {
        [partS[j - 1], partS[j]] = [partS[j], partS[j - 1]];
        [partKind[j - 1], partKind[j]] = [partKind[j], partKind[j - 1]];
      }
    let last = -Infinity;
    for (let i = 0; i < this.parts && echoes.count < this.mostEchoes; i++) {
      if (partS[i] >= solid || partS[i] > this.maxRangeM) break;
      if (partS[i] - last < ECHO_SEPARATION_M) continue;
      // each echo takes energy; a deep one may be too weak to be seen
      if (echoes.count > 0 && random.uniform() < 0.25) continue;
      last = echoes.s[echoes.count] = partS[i];
      echoes.kind[echoes.count++] = partKind[i];
    }
    if (
      solid <= this.maxRangeM &&
      solidKind >= 0 &&
      echoes.count < this.mostEchoes &&
      solid - last >= ECHO_SEPARATION_M
    ) {
      if (solidKind === SURFACE.grass || solidKind === SURFACE.meadow) {
        // blades: the beam answers where it still is a few centimetres above the soil, on a bank that faces it too
        const blade = 0.012 + 0.012 * Math.abs(random.normal());
        solid -= blade / Math.max(0.15, approach(ray, solid));
      }
      echoes.s[echoes.count] = solid;
      echoes.kind[echoes.count++] = solidKind;
    }
    return echoes;
  }
}

/** Metres by which a beam comes nearer to the ground, counted along the vertical, for each metre before it meets it. */
function approach(ray: Ray, s: number): number {
  const before = s - 0.1;
  const above = (at: number) => ray.z(at) - groundAt(ray.x(at), ray.y(at));
  return (above(before) - above(s)) / 0.1;
}

function clampCell(value: number, count: number): number {
  return Math.min(count - 1, Math.max(0, Math.floor(value / CELL)));
}

/** True when a kind belongs to the ground, road, kerb, footway, slab or grass. */
export function isGroundKind(kind: number): boolean {
  return kind <= KIND.footway;
}
