import { type GridLayout } from '@longheron/contract/declare';

/** A picture as the map takes it: its address, and west, south, east, north in the project's plan, metres. */
export interface MapPicture {
  url: string;
  extent: [number, number, number, number];
}

/** A picture of the store that was drawn of a grid, a pixel a cell. */
export function pictureOf(object: string, { westM, northM, cellM, columns, rows }: GridLayout): MapPicture {
  return {
    url: `/api/objects/${object}?type=image/png`,
    extent: [westM, northM - rows * cellM, westM + columns * cellM, northM],
  };
}
