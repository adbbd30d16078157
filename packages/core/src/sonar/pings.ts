import { type SensorMounting } from '../frames/mounting';

/** What is known of a vessel with an echo sounder. */
export interface Vessel {
  sensor: SensorMounting;
  /** The sonar's clock is late by this, seconds. */
  latencyS: number;
  latencySdS: number;
  /** How far the waterline lies below the reference point, metres. */
  waterlineM: number;
}

/** What an echo sounder with many beams recorded, pings in rows, beams in columns. Times are GPS seconds of `week`. */
export interface Pings {
  week: number;
  /** Number of the first of these pings in its file. */
  first: number;
  beams: number;
  /** Of transmission, as recorded; [pings]. */
  sow: Float64Array;
  /** Of transmission, positive forward, degrees; [pings]. */
  tiltDeg: Float64Array;
  /** Speed of sound at the head, metres a second; NaN where none was recorded; [pings]. */
  surfaceMps: Float64Array;
  /** Of reception, across, positive to starboard, degrees; [pings × beams]. */
  angleDeg: Float32Array;
  /** There and back, seconds; NaN where nothing was detected; [pings × beams]. */
  travelS: Float64Array;
  /** 0 nothing detected, 1 to 3 as the instrument grades it; [pings × beams]. */
  quality: Uint8Array;
  /** Strength of the echo, decibels; [pings × beams]; undefined when there is none. */
  intensityDb?: Float32Array;
}

/** What a sonar and its sensors say of their own noise, 1 SD. */
export interface SonarNoise {
  rangeSdM: number;
  /** Of the receive angle. */
  angleSdDeg: number;
  surfaceSpeedSdMps: number;
}

/** Deviation of the speed at the head where a file states none, m/s. */
export const SURFACE_SPEED_SD_MPS = 0.1;

/** Real-time navigation of the vessel's reference point. */
export interface Navigation {
  week: number;
  sow: Float64Array;
  latRad: Float64Array;
  lonRad: Float64Array;
  /** Above the ellipsoid; NaN where it was not recorded. */
  hEllM: Float64Array;
  headingRad: Float64Array;
  planSdM: number;
  heightSdM: number;
}

/** Roll, pitch, heading and heave of the vessel. */
export interface Motion {
  week: number;
  sow: Float64Array;
  rollRad: Float64Array;
  pitchRad: Float64Array;
  headingRad: Float64Array;
  /** Positive up. */
  heaveM: Float64Array;
  rollSdRad: number;
  pitchSdRad: number;
  headingSdRad: number;
  heaveSdM: number;
}
