/** Where a satellite was when it sent: Earth-fixed axes of that time. */
export interface Sent {
  week: number;
  bySatelliteS: number;
  /** x, y, z in metres; [3] clock against GPS time in seconds, with relativity. */
  orbit: Float64Array;
  /** Group delay of the first band against the clock, seconds; 0 where unknown. */
  groupDelayS: number;
  /** The same for codes of Galileo's E1 and E5b together, where it is known. */
  groupDelayE5bS?: number;
}

/** A source of orbits and clocks: broadcast records or precise tables. */
export interface Orbits {
  /**
   * Place and clock of a satellite when it sent a signal; undefined when there is none for that time.
   * @param bySatelliteS time of sending by the satellite's own clock, seconds of `week`. The object is used again.
   */
  sent(satellite: string, week: number, bySatelliteS: number): Sent | undefined;
  readonly satellites: string[];
}
