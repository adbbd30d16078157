import { type SoundingCast } from '@longheron/contract/kinds/parts/soundings';
import { type ReferenceSystem } from '@longheron/core/frames';
import { castGpsS, type Cast, type SoundingReducer, type Soundings } from '@longheron/core/sonar';

const DEG = Math.PI / 180;

/** Which cast was used where: pings, age, distance, and how its speed fits that at the head. */
export class Casts {
  private readonly at: Array<[number, number]>;
  private readonly pings: Float64Array;
  private readonly age: Float64Array;
  private readonly away: Float64Array;
  private readonly off: Float64Array;

  constructor(
    private readonly casts: readonly Cast[],
    system: ReferenceSystem,
  ) {
    const one = new Float64Array(3);
    this.at = casts.map((c) => {
      system.project(c.latRad, c.lonRad, 0, one);
      return [one[0], one[1]];
    });
    const n = casts.length;
    this.pings = new Float64Array(n);
    this.age = new Float64Array(n);
    this.away = new Float64Array(n);
    this.off = new Float64Array(n);
  }

  /** Hears of a block of soundings. */
  use(s: Soundings): void {
    let last = -1;
    for (let i = 0; i < s.count; i++) {
      if (s.ping[i] === last) continue;
      last = s.ping[i];
      const k = s.cast[i];
      this.age[k] = Math.max(this.age[k], Math.abs(s.gpsS[i] - castGpsS(this.casts[k])));
      this.away[k] = Math.max(this.away[k], Math.hypot(s.eastingM[i] - this.at[k][0], s.northingM[i] - this.at[k][1]));
    }
  }

  /** Hears of a file when all of it is reduced. */
  hear(r: SoundingReducer): void {
    for (let k = 0; k < this.pings.length; k++) {
      this.pings[k] += r.pingsByCast[k];
      if (Math.abs(r.surfaceOffMps[k]) > Math.abs(this.off[k])) this.off[k] = r.surfaceOffMps[k];
    }
  }

  figures(): SoundingCast[] {
    return this.casts.map((c, k) => ({
      name: c.name,
      week: c.week,
      sow: c.sow,
      lat_deg: c.latRad / DEG,
      lon_deg: c.lonRad / DEG,
      easting_m: this.at[k][0],
      northing_m: this.at[k][1],
      pings: this.pings[k],
      age_s: this.age[k],
      away_m: this.away[k],
      surface_off_mps: this.pings[k] ? this.off[k] : null,
      depth_m: [...c.depthM],
      speed_mps: [...c.speedMps],
    }));
  }
}
