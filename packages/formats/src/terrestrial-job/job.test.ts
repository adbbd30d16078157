import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { dms, openJob, readJob, tallyOf } from '.';

const ROWS = [
  ['A', '10.2030', '95.1510', 'true'],
  ['B', '120.4520', '89.3040', 'true'],
  ['B', '300.4514', '270.2912', 'false'],
  ['A', '190.2036', '264.4454', 'false'],
];
const job = ({
  unit = 'decimal dd.mm.ss',
  linear = 'meter',
  rows = ROWS,
  setUps = '<InstrumentSetup id="S1" stationName="P" instrumentHeight="1.5"><InstrumentPoint pntRef="P"/><Backsight><BacksightPoint pntRef="A"/></Backsight></InstrumentSetup>',
  more = '',
}: { unit?: string; linear?: string; rows?: string[][]; setUps?: string; more?: string } = {}) =>
  `<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2"><Units><Metric linearUnit="${linear}" ${unit ? `angularUnit="${unit}" directionUnit="${unit}"` : ''}/></Units>
<CgPoints><CgPoint name="P" code="peg">100.5 200.25 3</CgPoint></CgPoints><Survey><SurveyHeader name="Run"/>${setUps}
<ObservationGroup setupID="S1">${rows.map(([t, h, z, f]) => `<RawObservation targetHeight="1.4" horizAngle="${h}" slopeDistance="50.123" zenithAngle="${z}" directFace="${f}"><TargetPoint pntRef="${t}"/></RawObservation>`).join('')}</ObservationGroup>${more}</Survey></LandXML>`;
const DEG = Math.PI / 180;

describe('a job in LandXML', () => {
  it('is read with its set-ups, points and readings in the units it states', () => {
    const j = readJob(job(), 'run.xml');
    expect(j).toMatchObject({
      name: 'Run',
      setUps: [{ id: 'S1', station: 'P', instrumentHeightM: 1.5, backsight: 'A' }],
      points: [{ name: 'P', northingM: 100.5, eastingM: 200.25, heightM: 3, code: 'peg' }],
      angularUnit: 'dd.mmss',
    });
    expect(j.readings).toHaveLength(4);
    expect(j.readings[0].horizontalRad! / DEG).toBeCloseTo(10 + 20 / 60 + 30 / 3600, 10);
    expect(j.readings[2]).toMatchObject({ target: 'B', face: 2, slopeM: 50.123 });
    expect(j.example!.understood).toBe('10° 20′ 30.0″ · 95° 15′ 10.0″ · 50.123 m');
    expect(dms(2 * Math.PI - 1e-9)).toBe('360° 00′ 00.0″');
  });

  it('has feet as feet', () => {
    const j = readJob(job({ linear: 'foot' }), 'run.xml');
    expect(j.readings[0].slopeM).toBeCloseTo(50.123 * 0.3048, 12);
    expect(j.setUps[0].instrumentHeightM).toBeCloseTo(1.5 * 0.3048, 12);
  });

  it('asks for a unit of angles that is not stated', () => {
    expect(() => readJob(job({ unit: '' }), 'run.xml')).toThrow(/does not say in which unit its angles are/);
    expect(readJob(job({ unit: '' }), 'run.xml', 'dd.mmss').unitStated).toBe(false);
  });

  const decimal = (factor: number) =>
    ROWS.map(([t, h, z, f]) => {
      const of = (v: string) => {
        const [d, rest] = v.split('.');
        return ((Number(d) + Number(rest.slice(0, 2)) / 60 + Number(rest.slice(2)) / 3600) * factor).toFixed(6);
      };
      return [t, of(h), of(z), f];
    });

  it.each([
    ['dd.mm.ss as decimal degrees', job({ unit: 'decimal degrees' }), /look like degrees, minutes and seconds/],
    ['decimal degrees as dd.mm.ss', job({ rows: decimal(1) }), /60 minutes or seconds.*look like decimal degrees/],
    ['gon as degrees', job({ unit: 'decimal degrees', rows: decimal(10 / 9) }), /miss a full turn by \d+\.\d+°.*gon/],
    ['degrees as gon', job({ unit: 'grads', rows: decimal(1) }), /miss a full turn.*look like decimal degrees/],
  ])('refuses %s', (_what, text, message) => expect(() => readJob(text, 'run.xml')).toThrow(message));

  const twice = '<InstrumentSetup id="S1" stationName="P"/><InstrumentSetup id="S1" stationName="Q"/>';
  const itself =
    '<InstrumentSetup id="S1" stationName="P"><Backsight><BacksightPoint pntRef="P"/></Backsight></InstrumentSetup>';
  it.each([
    ['two set-ups of one name', job({ setUps: twice }), /Two set-ups are called S1/, 'InstrumentSetup S1'],
    ['a backsight to itself', job({ setUps: itself }), /backsight of S1 is its own station/, 'InstrumentSetup S1'],
    ['a reading to its own station', job({ rows: [['P', '1.0', '90.0', 'true']] }), /own station, P/, 'set-up S1'],
    ['an angle that is none', job({ rows: [['A', 'north', '90.0', 'true']] }), /"north", which is no number/, 'to A'],
    [
      'a set-up that is not there',
      job({ more: '<ObservationGroup setupID="S9"><RawObservation/></ObservationGroup>' }),
      /set-up "S9"/,
      'S9',
    ],
    ['a unit of lengths that is not known', job({ linear: 'rod' }), /"rod" is not known/, 'Units'],
    ['no survey', '<LandXML><Units/></LandXML>', /no survey/, 'Survey'],
    ['entities', `<!DOCTYPE a [<!ENTITY b "c">]>${job()}`, /declares entities/, 'XML'],
    ['a file cut off', job().slice(0, 900), /cannot be read/, 'XML'],
  ])('refuses %s', (_what, text, message, place) => {
    expect(() => readJob(text, 'run.xml')).toThrow(message);
    try {
      readJob(text, 'run.xml');
    } catch (error) {
      expect(error).toMatchObject({ file: 'run.xml', place: expect.stringContaining(place) as string });
      expect((error as { remedy?: string }).remedy).toBeTruthy();
    }
  });
});

const FILES = [
  '<Feature code="scan"><Property label="setupID" value="S1"/><DocFileRef name="s1" location="scans/s1.e57"/></Feature>',
  '<Feature code="scan"><DocFileRef name="s2" location="scans\\s2.e57"/></Feature>',
  '<Feature code="image"><DocFileRef name="p" location="../p.jpg"/></Feature>',
].join('');

describe('what lies beside a job', () => {
  it('is held against what it names', () => {
    const { files } = readJob(job({ more: FILES }), 'run.xml');
    expect(files).toEqual([
      { what: 'scan', setUp: 'S1', location: 'scans/s1.e57' },
      { what: 'scan', location: 'scans\\s2.e57' },
      { what: 'image', location: '../p.jpg' },
    ]);
    const tally = tallyOf(files, ['scans/S1.E57', 'scans/s3.e57', 'notes.txt']);
    expect(tally.found.map((f) => f.location)).toEqual(['scans/S1.E57']);
    expect(tally.missing.map((f) => f.location)).toEqual(['scans\\s2.e57']);
    expect(tally.outside.map((f) => f.location)).toEqual(['../p.jpg']);
    expect(tally.unnamed).toEqual(['scans/s3.e57']);
  });

  const folder = mkdtempSync(join(tmpdir(), 'longheron-job-'));
  const put = (name: string, bytes: Uint8Array) => {
    writeFileSync(join(folder, name), bytes);
    return join(folder, name);
  };
  const text = (s: string) => new TextEncoder().encode(s);

  it('is found in an archive, from the folder of the job on', async () => {
    const path = put(
      'a.zip',
      zipSync({ 'day/run.xml': text(job({ more: FILES })), 'day/scans/s1.e57': text('x'), 'else/s2.e57': text('x') }),
    );
    const { job: j, tally } = await openJob(path, 'a.zip');
    expect(j.readings).toHaveLength(4);
    expect(tally!.found.map((f) => f.location)).toEqual(['scans/s1.e57']);
    expect(tally!.missing).toHaveLength(1);
  });

  it.each([
    ['two jobs', { 'a.xml': text(job()), 'b.xml': text(job()) }, /holds 2 jobs/],
    ['no job', { 'a.xml': text('<x/>') }, /holds no job/],
    ['a name that leads out', { '../a.xml': text(job()) }, /leads outside of it/],
    ['what unpacks to far more', { 'a.xml': text(job()), 'z.e57': new Uint8Array(40_000_000) }, undefined],
  ])('of an archive with %s is told', async (what, files, message) => {
    const bytes = zipSync(files as unknown as Record<string, Uint8Array>);
    if (!message) {
      // its directory claims a thousand times more than it is packed to
      const at = Buffer.from(bytes).lastIndexOf('z.e57') - 22;
      new DataView(bytes.buffer, bytes.byteOffset).setUint32(at, 4_000_000_000, true);
    }
    await expect(openJob(put(`${what}.zip`, bytes), 'x.zip')).rejects.toThrow(message ?? /more than can be believed/);
  });
});
