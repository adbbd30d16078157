import { type Random } from '@longheron/core/numeric';

/** How the air of a session is; drawn at random. */
export interface AirStrength {
  /** Vertical delay of the ionosphere on 1575.42 MHz, metres. */
  ionosphereM: number;
  /** Change of it with distance, metres by metre. */
  gradient: number;
  /** A travelling wave in it: metres, kilometres, seconds. */
  waveM: number;
  waveKm: number;
  wavePeriodS: number;
  /** Wet delay at the zenith, its change with distance and its walk in an hour. */
  wetM: number;
  wetPerKm: number;
  wetWalkM: number;
}

/** Delays of the air above places around a session's origin. */
export interface Air {
  /** Vertical ionospheric delay, metres on 1575.42 MHz, above a point east and north of the origin, km. */
  verticalM(eastKm: number, northKm: number, sow: number): number;
  /** Dry and wet zenith delays, metres. */
  dryM(heightM: number): number;
  wetM(eastKm: number, northKm: number, heightM: number, sow: number): number;
}

export function makeAir(s: AirStrength, random: Random, startSow: number, lengthS: number): Air {
  const [tilt, heading, wetWay] = [0, 1, 2].map(() => random.between(0, 2 * Math.PI));
  const phase = random.between(0, 2 * Math.PI);
  const pressure = 2.3 * random.between(0.985, 1.015);
  const walk = [0];
  const steps = Math.ceil(lengthS / 60) + 4;
  for (let k = 1; k <= steps; k++) walk.push(walk[k - 1] + (s.wetWalkM / Math.sqrt(60)) * random.normal());
  return {
    verticalM: (e, n, sow) =>
      s.ionosphereM +
      1000 * s.gradient * (e * Math.sin(tilt) + n * Math.cos(tilt)) +
      s.waveM *
        Math.sin(
          phase +
            2 *
              Math.PI *
              ((e * Math.sin(heading) + n * Math.cos(heading)) / s.waveKm - (sow - startSow) / s.wavePeriodS),
        ),
    dryM: (h) => pressure * Math.exp(-h / 8300),
    wetM: (e, n, h, sow) => {
      const at = Math.max(0, Math.min(steps - 1.001, (sow - startSow) / 60 + 1));
      const k = Math.floor(at);
      const now = s.wetM + walk[k] + (at - k) * (walk[k + 1] - walk[k]);
      return (now + s.wetPerKm * (e * Math.sin(wetWay) + n * Math.cos(wetWay))) * Math.exp(-h / 2100);
    },
  };
}

/** Continued fraction of a mapping function with coefficients of its own (not those of the solver's tables). */
export function mapping(sinEl: number, wet: boolean): number {
  const [a, b, c] = wet ? [5.9e-4, 1.46e-3, 4.5e-2] : [1.251e-3, 2.905e-3, 6.3e-2];
  return (1 + a / (1 + b / (1 + c))) / (sinEl + a / (sinEl + b / (sinEl + c)));
}

/** Factor of a slant way through a shell, and how far from the receiver it is pierced, km. */
export function shell(sinEl: number): { factor: number; reachKm: number } {
  const height = 400;
  const zenith = Math.acos(sinEl);
  const there = Math.asin((6371 / (6371 + height)) * Math.sin(zenith));
  return { factor: 1 / Math.cos(there), reachKm: (6371 + height) * (zenith - there) };
}
