/** Side-scan pings of one pair of channels: amplitudes in rows, sample k at travel time firstS + k · sampleS. */
export interface SidescanRows {
  samples: number;
  sampleS: number;
  firstS: number;
  /** Of transmission, GPS seconds of the week, as recorded; [pings]. */
  sow: Float64Array;
  /** [pings × samples]. */
  port: Uint16Array;
  starboard: Uint16Array;
}

/** The first return from the bed, ping by ping. */
export interface BottomTrack {
  /** Sample of the first return; the altitude is what sound runs in its time. */
  sample: Float64Array;
  /** 0 to 1. */
  confidence: Float32Array;
  /** 1 where somebody should look. */
  flagged: Uint8Array;
  /** 1 where it was drawn by hand. */
  edited: Uint8Array;
}
