import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '../bytes';
import { lookAt, type Format } from '../format';
import { FORMATS, formatId, inspectFile, openAs, openPoints, recogniseFile, recogniseLook } from '.';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'longheron-formats-'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

const text = (t: string) => new TextEncoder().encode(t);
const put = async (name: string, bytes: Uint8Array) => {
  const path = join(folder, name);
  await writeFile(path, bytes);
  return path;
};
const HDF5 = Uint8Array.of(0x89, 0x48, 0x44, 0x46, 0x0d, 0x0a, 0x1a, 0x0a);
const rinex = (kind: string) => text(`${'     3.04'.padEnd(20)}${kind.padEnd(40)}RINEX VERSION / TYPE\n`);
const cloudOfNumbers = Array.from({ length: 400 }, (_, i) => `${467000 + i} ${6215000 - i} ${i / 10}`).join('\n');
const TRAJECTORY = 'gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,label\n2423,1.0,56.1,8.4,40,a\n';

/** The beginning of a file of each format that is read; formats not among them are only written. */
const SAMPLES: { [format: string]: Uint8Array[] } = {
  antex: [text(`${'     1.4            M'.padEnd(60)}ANTEX VERSION / SYST\n`)],
  casts: [text('cast,gps_week,gps_sow,lat_deg,lon_deg,depth_m,speed_mps\n')],
  cameras: [text('{ "cameras": { "air": {} } }')],
  distances: [text('from,to,value_ft,sd_m,use\n')],
  e57: [text('ASTM-E57\0\0')],
  events: [text('gps_week,gps_sow,label\n2423,1.0,photo 1\n')],
  geojson: [text('{ "type": "FeatureCollection", "features": [] }')],
  inertial: [text('gps_week,gps_sow,gx_radps,gy_radps\n'), Uint8Array.from([...HDF5, ...text('gyro accel')])],
  las: [text('LASF\0\0')],
  laser: [Uint8Array.from([...HDF5, ...text('range azimuth')])],
  marks: [
    text('name,role,easting_m,northing_m,height_m\n'),
    text('name;easting;northing;height;intensity\nA;467100;6215100;3;9\n'),
  ],
  ntv2: [text('NUM_OREC')],
  measurements: [text('from,to,kind,value_m,sd_m\n')],
  mounting: [text('{ "gnss": {}, "sensors": {} }')],
  navigation: [rinex('N: GNSS NAV DATA'), gzipSync(rinex('N: GNSS NAV DATA'))],
  occupations: [text('name,gps_week,start_sow,end_sow\n')],
  picks: [text('image,point,x_px,y_px\n')],
  photos: [text('name,taken\nP1.jpg,2026-06-16 08:00:00\n')],
  'photo-positions': [
    text('label,gps_week,gps_sow,lat_deg,lon_deg,h_ell_m\n'),
    text('# crs: EPSG:4937\nimage,camera,lat_deg,lon_deg,h_ell_m,qw,qx,qy,qz\n'),
  ],
  'photo-set': [Uint8Array.of(0x50, 0x4b, 3, 4, 20, 0)],
  ply: [text('ply\nformat ascii 1.0\n'), text('ply\r\nformat ascii 1.0\r\n')],
  rinex: [rinex('OBSERVATION DATA'), gzipSync(rinex('OBSERVATION DATA'))],
  'scan-targets': [text('scan,target,x_m,y_m,z_m,sd_m,kind\n')],
  sonar: [Uint8Array.from([...HDF5, ...text('nav bathy')]), Uint8Array.from([...HDF5, ...text('sidescan')])],
  sp3: [text('#dP2026  6 16  0  0  0.00000000      96 ORBIT\n')],
  table: [text('Pt;a;b;c\nA;1;2;3\n')],
  'terrestrial-job': [
    text(
      '<?xml version="1.0"?>\n<LandXML version="1.2"><Units/><CgPoints/><Survey><InstrumentSetup id="1"/></Survey></LandXML>',
    ),
    zipSync({ 'job/scans/s1.e57': text('x'), 'job/run.xml': text('<LandXML/>') }),
  ],
  text: [text('x,y,z,intensity,classification\n1,2,3,4,2\n'), text(cloudOfNumbers)],
  'water-level': [text('# above: Datum\ngps_week,gps_sow,level_m\n')],
  wkt: [text('PROJCS["a"'), text('COMPOUNDCRS[')],
  trajectory: [text(`# crs: EPSG:4937\r\n${TRAJECTORY}`), text(`\uFEFF${TRAJECTORY}`)],
};
const kindOf = (f: Format | undefined) => f?.about.kind;

describe('the formats', () => {
  it.each(Object.entries(SAMPLES).flatMap(([id, all]) => all.map((bytes, k) => [id, k, bytes] as const)))(
    '%s knows its own file (sample %i) by content, and no other is as sure',
    async (id, _k, bytes) => {
      const look = await lookAt(memorySource(bytes, 'sample'));
      const found = await recogniseLook(look);
      expect(found && formatId(found)).toBe(id);
      const sure = [];
      for (const f of Object.values<Format>(FORMATS))
        if (f.sniff && (!look.packed || f.about.packed)) sure.push(await f.sniff(look));
      const best = await (found as Format).sniff!(look);
      expect(sure.filter((s) => s === best)).toHaveLength(1);
    },
  );

  it('has a sample of each format that is read, but for grids in TIFF and GTX, which have tests of their own', () => {
    const read = Object.entries<Format>(FORMATS).flatMap(([id, f]) => (f.sniff ? [id] : []));
    expect(Object.keys(SAMPLES).sort()).toEqual(read.filter((id) => !['geoid', 'tiff'].includes(id)).sort());
  });

  it('names a kind and inspects whatever it knows; writes whatever it declares', () => {
    for (const [id, f] of Object.entries<Format>(FORMATS)) {
      expect([id, !!f.sniff]).toEqual([id, !!f.about.kind && !!f.inspect]);
      expect([id, Object.keys(f.write ?? {})]).toEqual([id, Object.keys(f.about.points ?? {})]);
    }
  });

  it('leaves alone what is none of them', async () => {
    for (const bytes of [text('hello'), Uint8Array.of(1, 2, 0, 4), gzipSync(text('LASF')), Uint8Array.of(0x1f, 0x8b)])
      expect(await recogniseLook(await lookAt(memorySource(bytes, 'x')))).toBeUndefined();
    await expect(inspectFile(await put('what.bin', text('hello')))).rejects.toMatchObject({
      code: 'file-kind',
      file: 'what.bin',
      remedy: expect.stringMatching(/^Known are .*RINEX 2 and 3, observations.*\.$/),
    });
    await expect(recogniseFile(await put('nothing.las', new Uint8Array(0)))).rejects.toMatchObject({
      code: 'file-empty',
    });
    await expect(recogniseFile(join(folder, 'absent'))).rejects.toMatchObject({ code: 'file-open' });
  });
});

describe('a file that is needed as a kind', () => {
  it('is read by its format', async () => {
    const path = await put('t.csv', text(TRAJECTORY));
    expect(Array.from((await openAs('trajectory', path, 't.csv')).sow)).toEqual([1]);
    expect(kindOf(await recogniseFile(path))).toBe('trajectory');
  });
  it('is refused by the reader of that kind when it is another', async () => {
    const path = await put('marks.csv', text('name,role,easting_m,northing_m,height_m\nA,check,1,2,3\n'));
    await expect(openAs('trajectory', path, 'marks.csv')).rejects.toMatchObject({
      code: 'trajectory-columns',
      file: 'marks.csv',
      place: 'header line',
    });
  });
  it('is a cloud: LAS is used as it is, anything else is read as text at least', async () => {
    await expect(openPoints(await put('c.las', text('LASF')))).rejects.toThrow(/LAS already/);
    const { source, format } = await openPoints(await put('few.txt', text('1 2 3\n4 5 6\n')));
    expect(formatId(format)).toBe('text');
    await source.close();
  });
});
