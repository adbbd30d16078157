/** Bytes of a point's fields by point format, without extra bytes; the formats that have a compressed form. */
export const FIELD_BYTES: Record<number, number> = { 0: 20, 1: 28, 2: 26, 3: 34, 6: 30, 7: 36, 8: 38 };
