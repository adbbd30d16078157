import { type UndulationGrid } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { readTiff } from '../tiff/raster';
import { readTextGrid, textGridHead } from './textGrid';

const HEAD_BYTES = 40;
/** Value that stands for none in GTX files. */
const GTX_NONE = -88.8888;
/** Undulations on Earth lie well within this, metres. */
const MAX_M = 130;

interface GtxHead {
  southDeg: number;
  westDeg: number;
  stepLatDeg: number;
  stepLonDeg: number;
  rows: number;
  columns: number;
}

/** The head of a GTX file, or undefined when the numbers make no sense as one. @param bytes of the whole file. */
export function gtxHead(head: Uint8Array, bytes: number): GtxHead | undefined {
  if (head.length < HEAD_BYTES) return undefined;
  const v = new DataView(head.buffer, head.byteOffset, head.byteLength);
  const [southDeg, westDeg, stepLatDeg, stepLonDeg] = [0, 8, 16, 24].map((at) => v.getFloat64(at));
  const [rows, columns] = [v.getInt32(32), v.getInt32(36)];
  const placed = southDeg >= -90 && southDeg <= 90 && Math.abs(westDeg) <= 360;
  const stepped = stepLatDeg > 1e-4 && stepLatDeg < 10 && stepLonDeg > 1e-4 && stepLonDeg < 10;
  const sized = rows > 1 && columns > 1 && rows * stepLatDeg < 181 && columns * stepLonDeg < 362;
  if (!placed || !stepped || !sized || bytes < HEAD_BYTES + 4) return undefined;
  return { southDeg, westDeg, stepLatDeg, stepLonDeg, rows, columns };
}

/** Reads a geoid grid, GTX, GeoTIFF or text, in metres. */
export function readGeoid(bytes: Uint8Array, file: string): UndulationGrid {
  const tiff = (bytes[0] === 0x49 && bytes[1] === 0x49) || (bytes[0] === 0x4d && bytes[1] === 0x4d);
  const text = !tiff && !!textGridHead(new TextDecoder('latin1').decode(bytes.subarray(0, 400)));
  const grid = tiff ? ofTiff(bytes, file) : text ? readTextGrid(bytes, file) : ofGtx(bytes, file);
  const known = grid.valuesM.filter((v) => !Number.isNaN(v));
  const wild = known.find((v) => Math.abs(v) > MAX_M);
  if (known.length === 0 || wild !== undefined)
    throw new Problem(
      known.length === 0 ? 'The grid holds no value.' : `The grid holds ${wild!.toFixed(1)}: no undulation in metres.`,
      { code: 'geoid-values', file, remedy: 'Choose a geoid grid of undulations in metres.' },
    );
  return grid;
}

function ofGtx(bytes: Uint8Array, file: string): UndulationGrid {
  const head = gtxHead(bytes, bytes.length);
  if (!head)
    throw new Problem('The file does not begin as a GTX grid does.', {
      code: 'geoid-head',
      file,
      place: 'bytes 0 to 39',
      remedy: 'Choose a geoid grid as GTX, GeoTIFF or text with limits and steps in its first line.',
    });
  const wanted = HEAD_BYTES + 4 * head.rows * head.columns;
  if (bytes.length < wanted)
    throw new Problem(`The file holds ${bytes.length} of ${wanted} bytes.`, {
      code: 'geoid-cut',
      file,
      place: `byte ${bytes.length}`,
      remedy: 'It was cut off: copy it again from its origin.',
    });
  const v = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const valuesM = new Float32Array(head.rows * head.columns);
  for (let k = 0; k < valuesM.length; k++) {
    const value = v.getFloat32(HEAD_BYTES + 4 * k);
    valuesM[k] = Math.abs(value - GTX_NONE) < 1e-3 ? Number.NaN : value;
  }
  return { ...head, valuesM };
}

function ofTiff(bytes: Uint8Array, file: string): UndulationGrid {
  const t = readTiff(bytes, file);
  if (!t.geographic)
    throw new Problem('The raster is not in latitude and longitude.', {
      code: 'geoid-frame',
      file,
      place: 'GeoTIFF key 1024',
      remedy: 'Choose a geoid grid in geographic coordinates.',
    });
  const valuesM = new Float32Array(t.values.length);
  for (let r = 0; r < t.rows; r++)
    valuesM.set(t.values.subarray((t.rows - 1 - r) * t.columns, (t.rows - r) * t.columns), r * t.columns);
  return {
    southDeg: t.top - (t.rows - 1) * t.stepY,
    westDeg: t.left,
    stepLatDeg: t.stepY,
    stepLonDeg: t.stepX,
    rows: t.rows,
    columns: t.columns,
    valuesM,
    ...(t.items.get('interpolation_method') === 'biquadratic' ? { method: 'biquadratic' as const } : {}),
    ...accuracyOf(t.items),
  };
}

/** Accuracy that the metadata state, metres; none where they state none that makes sense. */
function accuracyOf(items: ReadonlyMap<string, string>): { accuracyM?: number } {
  const said = Number(items.get('accuracy') ?? items.get('operation_accuracy') ?? Number.NaN);
  return said > 0 && said < 10 ? { accuracyM: said } : {};
}
