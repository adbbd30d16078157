import { Problem, tick, type Watch } from '@longheron/core/shared';
import { openFile, type ByteSource } from '../bytes';
import { allocateBatch, to16, type PointBatch, type PointSource } from '../points';
import { pointFormat } from '../points/format';
import about from './about';
import { unpackScan } from './packets';
import { Pages } from './pages';
import { describeE57, type E57Description, type Scan } from './scans';

export { crc32c } from './pages';

/** A description of thousands of scans and pictures is a few megabytes; read, it takes thirty times its size. */
const MAX_XML_BYTES = 16 << 20;
/** Points that a file may hold whose fields never change, so that they take no room in it. */
const MAX_POINTS_WITHOUT_BYTES = 1_000_000;
const USED = new Set([
  'cartesianX',
  'cartesianY',
  'cartesianZ',
  'cartesianInvalidState',
  'sphericalRange',
  'sphericalAzimuth',
  'sphericalElevation',
  'sphericalInvalidState',
  'intensity',
  'colorRed',
  'colorGreen',
  'colorBlue',
  'timeStamp',
  'returnIndex',
  'returnCount',
]);

/** Opens an E57 file (ASTM E2807): all its scans after each other, placed by their poses, numbered as sources. */
export async function openE57(path: string, name?: string): Promise<PointSource> {
  const source = await openFile(path, name);
  try {
    const { pages, description } = await readDescription(source);
    return e57Source(source, pages, description);
  } catch (error) {
    await source.close();
    throw error;
  }
}

async function readDescription(source: ByteSource): Promise<{ pages: Pages; description: E57Description }> {
  const bad = (text: string, place: string) =>
    new Problem(text, {
      code: 'e57-header',
      file: source.name,
      place,
      remedy: 'The file was cut off or damaged: copy it again from its origin.',
    });
  if (source.size < 1024) throw bad(`The file has ${source.size} bytes; an E57 file needs at least 1024.`, 'header');
  const head = new DataView((await source.read(0, 48)).buffer);
  const major = head.getUint32(8, true);
  const physical = Number(head.getBigUint64(16, true));
  const xmlAt = Number(head.getBigUint64(24, true));
  const xmlBytes = Number(head.getBigUint64(32, true));
  const pageBytes = Number(head.getBigUint64(40, true));
  if (major !== 1) throw bad(`Version ${major} of the format is not known.`, 'byte 8');
  if (pageBytes < 64 || pageBytes > 1 << 20) throw bad(`Pages of ${pageBytes} bytes are not possible.`, 'byte 40');
  if (physical !== source.size) throw bad(`The header says ${physical} bytes, the file has ${source.size}.`, 'byte 16');
  if (xmlAt >= physical || xmlBytes > Math.min(MAX_XML_BYTES, physical))
    throw bad('The description lies outside the file.', 'byte 24');
  const pages = new Pages(source, pageBytes);
  const xml = new TextDecoder('utf-8').decode(await pages.read(pages.logical(xmlAt), xmlBytes));
  const description = describeE57(xml, source.name);
  if (description.scans.length === 0)
    throw new Problem('The file holds no scans.', {
      code: 'e57-empty',
      file: source.name,
      remedy: 'Choose another file.',
    });
  return { pages, description };
}

const has = (scan: Scan, name: string) => scan.fields.some((f) => f.name === name);

function e57Source(source: ByteSource, pages: Pages, description: E57Description): PointSource {
  const { scans, images, system } = description;
  for (const s of scans) checkFields(s, source.name);
  checkRoom(scans, source);
  const any = (name: string) => scans.some((s) => has(s, name));
  const fields = {
    intensity: any('intensity'),
    colour: any('colorRed') && any('colorGreen') && any('colorBlue'),
    classification: false,
    returns: any('returnIndex') && any('returnCount'),
    time: any('timeStamp'),
    source: true,
  };
  const lost = new Set(scans.flatMap((s) => s.fields.map((f) => f.name)).filter((n) => !USED.has(n)));
  const count = scans.reduce((sum, s) => sum + s.count, 0);
  return {
    name: source.name,
    declared: count,
    fields,
    system,
    adjustedTime: fields.time && scans.every((s) => s.startGps !== undefined),
    lost: [
      ...[...lost].map((n) => `the field "${n}"`),
      ...(images ? [`${images} ${images === 1 ? 'image' : 'images'}`] : []),
    ],
    details: [
      ['Scans', scans.map((s) => s.name).join(', ')],
      ['Points of each', scans.map((s) => s.count).join(', ')],
    ],
    stands: scans.map((s, k) => ({
      // names of scans within a file need not differ
      name: scans.findIndex((o) => o.name === s.name) < k ? `${s.name} ${k + 1}` : s.name,
      atM: s.translation,
      rotation: s.rotation,
    })),
    async *batches(watch?: Watch, only?: number) {
      let done = 0;
      for (const [k, scan] of scans.entries()) {
        if (only !== undefined && only !== k + 1) continue;
        for await (const { count: n, columns } of unpackScan(pages, scan, USED, source.name)) {
          tick(watch, done / count, `Reading ${scan.name}`);
          yield placed(scan, k + 1, n, columns, fields);
          done += n;
        }
      }
    },
    close: () => source.close(),
  };
}

const CARTESIAN = ['cartesianX', 'cartesianY', 'cartesianZ'];
const SPHERICAL = ['sphericalRange', 'sphericalAzimuth', 'sphericalElevation'];

function checkFields(scan: Scan, file: string): void {
  const missing = (names: string[]) => names.filter((n) => !has(scan, n));
  if (!missing(CARTESIAN).length || !missing(SPHERICAL).length) return;
  const some = [CARTESIAN, SPHERICAL].map(missing).find((names) => names.length < 3);
  throw new Problem(
    some
      ? `${scan.name} has no ${some.map((n) => `"${n}"`).join(' and no ')}.`
      : `${scan.name} has neither coordinates nor ranges.`,
    { code: 'e57-fields', file, place: 'XML section', remedy: 'Ask for the file with coordinates.' },
  );
}

/** Values of the scans take their bits in the file, each its own: fewer points than that say are there. */
function checkRoom(scans: Scan[], source: ByteSource): void {
  let bits = 0;
  let without = 0;
  for (const s of scans) {
    const each = s.fields.reduce((sum, f) => sum + f.bits, 0);
    bits += each * s.count;
    if (each === 0) without += s.count;
    if (bits <= 8 * source.size && without <= MAX_POINTS_WITHOUT_BYTES) continue;
    throw new Problem(`${s.name} declares ${s.count} points, more than a file of ${source.size} bytes can hold.`, {
      code: 'e57-count',
      file: source.name,
      place: 'XML section, recordCount',
      remedy: 'The file was cut off or damaged: copy it again from its origin.',
    });
  }
}

/** Points of a scan in the file's frame; those the scanner marked as invalid are NaN. */
function placed(
  scan: Scan,
  number: number,
  count: number,
  columns: Map<string, Float64Array>,
  fields: PointSource['fields'],
): PointBatch {
  const out = allocateBatch(count, fields);
  const cartesian = CARTESIAN.every((n) => columns.has(n));
  const [a, b, c] = (cartesian ? CARTESIAN : SPHERICAL).map((n) => columns.get(n)!);
  const invalid = columns.get(cartesian ? 'cartesianInvalidState' : 'sphericalInvalidState');
  const { rotation: R, translation: t } = scan;
  for (let i = 0; i < count; i++) {
    let [x, y, z] = [a[i], b[i], c[i]];
    if (!cartesian) {
      const flat = a[i] * Math.cos(c[i]);
      [x, y, z] = [flat * Math.cos(b[i]), flat * Math.sin(b[i]), a[i] * Math.sin(c[i])];
    }
    if (invalid?.[i]) x = NaN;
    out.x[i] = R[0] * x + R[1] * y + R[2] * z + t[0];
    out.y[i] = R[3] * x + R[4] * y + R[5] * z + t[1];
    out.z[i] = R[6] * x + R[7] * y + R[8] * z + t[2];
  }
  out.source!.fill(number);
  const limitsOf = (name: string, given?: [number, number]): [number, number] => {
    const f = scan.fields.find((g) => g.name === name)!;
    return given ?? [f.minimum, f.maximum > f.minimum ? f.maximum : f.minimum + 1];
  };
  const scaled = (name: string, into: Uint16Array, given?: [number, number]) => {
    const values = columns.get(name);
    if (!values) return;
    const [low, high] = limitsOf(name, given);
    for (let i = 0; i < count; i++) into[i] = to16(values[i] - low, high - low);
  };
  if (out.intensity) scaled('intensity', out.intensity, scan.intensityLimits);
  if (out.colour)
    ['colorRed', 'colorGreen', 'colorBlue'].forEach((n, k) => scaled(n, out.colour![k], scan.colourLimits));
  const times = columns.get('timeStamp');
  // without a start the seconds stay the scan's own
  const start = scan.startGps === undefined ? 0 : scan.startGps - 1e9;
  if (out.time && times) for (let i = 0; i < count; i++) out.time[i] = start + times[i];
  if (out.returnNumber && out.returnCount) {
    const index = columns.get('returnIndex');
    const total = columns.get('returnCount');
    for (let i = 0; i < count; i++) {
      out.returnNumber[i] = Math.min(15, (index?.[i] ?? 0) + 1);
      out.returnCount[i] = Math.min(15, total?.[i] ?? 1);
    }
  }
  return out;
}

/** Scans of instruments on a tripod. */
export default pointFormat({
  about,
  sniff: (look) => (look.starts('ASTM-E57') ? 'signature' : undefined),
  points: openE57,
});
