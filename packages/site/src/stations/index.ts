import { DEG, ecefToGeodetic, geodeticToEcef, GRS80, type ReferenceSystem } from '@longheron/core/frames';
import { DRIVE_START_SOW, GPS_WEEK } from '../drive';
import { FAR_BASE_PLACE, SESSION_AIR_BEFORE_S, STATION_ANTENNA, VIRTUAL_ANTENNA } from '../gnss';
import { constellation } from '../gnss/constellation';
import { observe } from '../gnss/receiver';
import { observationText } from '../gnss/rinexText';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '../terrain';

/** A station of the made-up reference-station service. */
export interface ServiceStation {
  code: string;
  latDeg: number;
  lonDeg: number;
  hEllM: number;
  rateHz: number;
  antenna: string;
  /** Spans for which it has observations, GPS seconds. */
  holdings: Array<{ startGps: number; endGps: number }>;
}

const ANTENNA_HEIGHT_M = 0.0541;
const DAY_S = 86400;
const dayStart = GPS_WEEK * 604800 + Math.floor(DRIVE_START_SOW / DAY_S) * DAY_S;
const whole = { startGps: dayStart, endGps: dayStart + DAY_S };
const drive = GPS_WEEK * 604800 + DRIVE_START_SOW;

/** Site coordinates, rate, and what each has; one was silent in the middle of the drive, one all that day. */
const STATIONS = [
  { code: 'FJR1', ...FAR_BASE_PLACE, rateHz: 1, holdings: [whole] },
  {
    code: 'HLM2',
    x: 9800,
    y: 7400,
    heightM: 33.1,
    rateHz: 1,
    holdings: [
      { startGps: dayStart, endGps: drive + 200 },
      { startGps: drive + 1500, endGps: dayStart + DAY_S },
    ],
  },
  { code: 'ODD3', x: -2100, y: 31400, heightM: 12.6, rateHz: 0.2, holdings: [] },
] as const;

/** Stations of the service with their published coordinates. */
export function serviceStations(system: ReferenceSystem): ServiceStation[] {
  const geo = new Float64Array(3);
  return STATIONS.map((s) => {
    system.unproject(SITE_ORIGIN_E + s.x, SITE_ORIGIN_N + s.y, s.heightM, geo);
    return {
      code: s.code,
      latDeg: geo[0] / DEG,
      lonDeg: geo[1] / DEG,
      hEllM: geo[2],
      rateHz: s.rateHz,
      antenna: STATION_ANTENNA.type,
      holdings: [...s.holdings],
    };
  });
}

/**
 * Where a virtual station near a place is made: rounded to a thousandth of a degree and ten metres of height, so that
 * it never stands on a mark, and off by one step when that is where it was asked for.
 */
export function virtualPlace(latDeg: number, lonDeg: number, hEllM: number): [number, number, number] {
  const round = (v: number, step: number) => Math.round(v / step) * step;
  const lat = round(latDeg, 1e-3);
  const near = Math.abs(lat - latDeg) < 2e-5;
  return [near ? lat + 1e-3 : lat, round(lonDeg, 1e-3), round(hEllM, 10) + 10];
}

export interface StationRequest {
  /** A code of the service, or a place for a virtual station. */
  code?: string;
  virtual?: [number, number, number];
  startGps: number;
  endGps: number;
  seed: number;
  factor: number;
}

/** Observations of a station over a span as RINEX; empty when it has none then. */
export function stationFile(request: StationRequest, system: ReferenceSystem): string {
  const { virtual, seed } = request;
  const station = virtual ? undefined : serviceStations(system).find((s) => s.code === request.code);
  if (!virtual && !station) return '';
  const [lat, lon, h] = virtual ?? [station!.latDeg, station!.lonDeg, station!.hEllM];
  const marker = geodeticToEcef(GRS80, lat * DEG, lon * DEG, h);
  const heightM = virtual ? 0 : ANTENNA_HEIGHT_M;
  const geo = ecefToGeodetic(GRS80, marker[0], marker[1], marker[2]);
  const antenna = geodeticToEcef(GRS80, geo[0], geo[1], geo[2] + heightM);
  const rateHz = station?.rateHz ?? 1;
  const tags: number[] = [];
  const held = station?.holdings ?? [whole];
  for (let k = Math.ceil(request.startGps * rateHz); k <= request.endGps * rateHz; k++) {
    const t = k / rateHz;
    if (held.some((s) => t >= s.startGps && t <= s.endGps)) tags.push(t - GPS_WEEK * 604800);
  }
  if (tags.length === 0) return '';
  const name = virtual ? 'VIRT' : station!.code;
  const epochs = observe(
    {
      name: `station ${name}`,
      tags: Float64Array.from(tags),
      clockS: (tag) => 2e-8 * Math.cos(tag / 700),
      place: (_sow, out) => out.set(antenna),
      antenna: virtual ? VIRTUAL_ANTENNA : STATION_ANTENNA,
    },
    constellation(seed, DRIVE_START_SOW),
    { seed, factor: request.factor, startSow: DRIVE_START_SOW - SESSION_AIR_BEFORE_S },
  );
  return observationText(
    {
      marker: name,
      antenna: station?.antenna ?? VIRTUAL_ANTENNA.type,
      receiver: virtual ? 'COMPUTED' : 'DEMO',
      week: GPS_WEEK,
      xyzM: marker,
      antennaHeightM: heightM,
      intervalS: 1 / rateHz,
    },
    epochs,
  );
}
