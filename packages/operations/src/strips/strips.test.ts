import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Profile, type ProfileFile } from '@longheron/contract/kinds/adjustment';
import { boresightSds, parseMounting } from '@longheron/core/frames';
import { LasFile } from '@longheron/formats/las';
import { openTrajectory } from '@longheron/formats/trajectory';
import { drawFlightPlan, type Flight } from '@longheron/site/flights';
import { FLIGHT_CRS, FLIGHT_MIDDLE, flightFiles } from '../test/flightFiles';
import { OnFiles, type Ran } from '../test/onFiles';

let files: OnFiles;
beforeAll(async () => {
  files = await OnFiles.create();
});
afterAll(() => files.remove());

const run = (paths: { [role: string]: string[] }, settings: object = {}, keeps = false) =>
  files.run('strips', paths, settings as never, { crs: FLIGHT_CRS, keeps });

describe('six lines and one across, six centimetres of drift in the third', () => {
  let flight: Flight;
  let ran: Ran<'strips'>;
  let paths: { [role: string]: string[] };
  beforeAll(async () => {
    const plan = drawFlightPlan(41, 'crossing', 0.35);
    plan.drift = { line: 3, heightM: 0.06 };
    ({ flight, paths } = await flightFiles(files, 'crossing', plan));
    const marks = [0, 1, 2, 3].map((k) => {
      const [e, n] = [FLIGHT_MIDDLE[0] - 60 + 40 * k, FLIGHT_MIDDLE[1] - 60 + 12 * k];
      // the last one is wrong by 30 cm
      return `C${k},control,${e},${n},${(flight.heightAt(e, n) + (k === 3 ? 0.3 : 0)).toFixed(4)},0.005\n`;
    });
    const control = await files.put(
      'control.csv',
      `# crs: ${FLIGHT_CRS}\nname,role,easting_m,northing_m,height_m,sd_h_m\n${marks.join('')}`,
    );
    ran = await run({ ...paths, control: [control] }, {}, true);
  }, 900_000);

  it('give the planted boresight back within its deviations', () => {
    const { boresightDeg, boresightSdDeg } = parseMounting(ran.content.mounting).sensors.scanner;
    const sd = boresightSds({ boresightSdDeg } as never);
    const truth = flight.trueMounting.boresightDeg;
    for (const axis of ['roll', 'pitch', 'heading'] as const) {
      expect(Math.abs(boresightDeg[axis] - truth[axis]) / sd[axis]).toBeLessThan(3);
      expect(sd[axis]).toBeLessThan({ roll: 0.004, pitch: 0.005, heading: 0.013 }[axis]);
    }
    expect(ran.made.report.mount).toMatchObject({ sensor: 'scanner', sd });
  });

  it('agree afterwards as well as their noise lets them, in plan too', () => {
    const f = ran.content.figures;
    expect(f.before_m).toBeGreaterThan(3 * f.noise_m);
    expect(f.after_m).toBeLessThan(1.2 * f.noise_m);
    expect(f.plan_after_m!).toBeLessThan(0.3 * f.plan_before_m!);
    expect(f.strips).toHaveLength(7);
    expect(f.strips.reduce((s, l) => s + l.points, 0)).toBe(f.returns_in_strips);
    const pairs = f.overlaps.map((p) => `${p.first.strip} ${p.second.strip}`);
    expect(new Set(pairs).size).toBe(pairs.length);
    expect(pairs).toContain('2 3');
    expect(f.overlaps.map((p) => p.before_rms_m)).toEqual(
      [...f.overlaps.map((p) => p.before_rms_m)].sort((a, b) => b - a),
    );
  });

  it('take the drift out of the trajectory', async () => {
    const path = ran.path('trajectory');
    const corrected = await openTrajectory(path, 'corrected.csv');
    const third = ran.content.figures.strips[2];
    const errors = (of: typeof corrected) => {
      const inside: number[] = [];
      for (let i = 0; i < of.sow.length; i++)
        if (of.sow[i] >= third.start_sow && of.sow[i] <= third.end_sow)
          inside.push(of.hEllM[i] - flight.trueTrajectory.hEllM[i]);
      return Math.sqrt(inside.reduce((s, v) => s + v * v, 0) / inside.length);
    };
    expect(corrected.sow.length).toBe(flight.trajectory.sow.length);
    expect(errors(corrected)).toBeLessThan(0.3 * errors(flight.trajectory));
    const drift = ran.content.figures.drift.filter((d) => d.strip === 3);
    expect(drift.at(-1)!.dh_m).toBeLessThan(-0.03);
    for (const d of drift) expect(d.sd_m).toBeLessThan(0.013);
    // deviations of the corrected trajectory are those of the adjustment
    expect(corrected.sdDM![corrected.sow.findIndex((t) => t > third.start_sow + 1)]).toBeLessThan(0.012);
  });

  it('leave the wrong control mark out, by name, and use the others', () => {
    const { control } = ran.content.figures;
    expect(control.every((m) => m.strips > 1)).toBe(true);
    expect(control.map((m) => m.used)).toEqual([true, true, true, false]);
    for (const m of control.slice(0, 3)) expect(Math.abs(m.after_m!)).toBeLessThan(0.012);
    expect(ran.content.marks).toEqual(['C0', 'C1', 'C2']);
    expect(ran.notices.find((n) => n.code === 'strips-mark-left-out')!.text).toContain('C3');
    expect(ran.content.figures.held.map((h) => h.what)).toEqual(['common plan shift']);
  });

  it('become a cloud, of the corrected trajectory and mounting alone', async () => {
    const cloud = await LasFile.openPath(ran.path('cloud'));
    const points = await cloud.readAll();
    const { scale, offset } = cloud.header;
    await cloud.close();
    expect(points.x.length).toBe(flight.returns.sow.length);
    let [sum, count] = [0, 0];
    for (let i = 0; i < points.x.length; i += 7) {
      if (points.returnCount[i] !== 1) continue;
      const of = (k: 'x' | 'y' | 'z', a: number) => points[k][i] * scale[a] + offset[a];
      const [e, n] = [of('x', 0), of('y', 1)];
      const off = of('z', 2) - flight.heightAt(e, n);
      if (Math.abs(off) > 0.15) continue;
      sum += off * off;
      count++;
    }
    expect(count).toBeGreaterThan(0.85 * (points.x.length / 7));
    expect(Math.sqrt(sum / count)).toBeLessThan(0.03);
  });

  it('have pictures, tables and a chapter', async () => {
    const { pictures, layout, values } = ran.content;
    expect(layout.columns * layout.cellM).toBeGreaterThan(200);
    expect(pictures!.before).not.toBe(pictures!.after);
    const { before, after } = JSON.parse(await readFile(files.store.path(values), 'utf8')) as {
      before: number[];
      after: number[];
    };
    expect(Math.max(...after.map(Math.abs))).toBeLessThan(Math.max(...before.map(Math.abs)));
    const { pieces, profiles } = JSON.parse(
      await readFile(files.store.path(ran.content.profiles!), 'utf8'),
    ) as ProfileFile;
    expect(profiles.length).toBeGreaterThan(5);
    expect(profiles.map((p) => p.beforeRmsM)).toEqual([...profiles.map((p) => p.beforeRmsM)].sort((a, b) => b - a));
    // heights of both strips over one another along the worst slice
    const byMetre = (v: number[]) => {
      const out = new Map<number, number[]>();
      for (let i = 0; i < v.length; i += 2) out.set(Math.floor(v[i]), [...(out.get(Math.floor(v[i])) ?? []), v[i + 1]]);
      return out;
    };
    const median = (v: number[]) => [...v].sort((a, b) => a - b)[v.length >> 1];
    const gap = ({ first, second }: Profile['before']) => {
      const [a, b] = [byMetre(first), byMetre(second)];
      return median([...a].flatMap(([k, v]) => (b.has(k) ? [Math.abs(median(v) - median(b.get(k)!))] : [])));
    };
    const [worst] = profiles;
    expect(pieces[worst.first].strip).toBeLessThan(pieces[worst.second].strip);
    expect(worst.before.first.length).toBeGreaterThan(20);
    expect(gap(worst.after)).toBeLessThan(gap(worst.before));
    const rows = (await ran.text('pairs')).trim().split('\n').slice(2);
    expect(rows.length).toBe(1 + ran.content.figures.overlaps.length);
    const later = { adjustment: { name: 'Adjustment', content: ran.content } };
    const mounting = await files.run('adjusted-mounting', {}, {}, { keeps: true, beside: later });
    expect(mounting.content.mounting).toEqual(ran.content.mounting);
    const trajectory = await files.run('adjusted-trajectory', {}, {}, { keeps: true, beside: later, crs: FLIGHT_CRS });
    expect(trajectory.content.facts.count).toBe(flight.trajectory.sow.length);
  });
});

describe('parallel lines flown one way', () => {
  it('hold pitch and the common plan shift, with the reason, and determine roll and heading', async () => {
    const { flight, paths } = await flightFiles(files, 'oneway', drawFlightPlan(43, 'one way', 0.35));
    const { content, notices } = await run(paths);
    const held = content.figures.held.map((h) => h.what);
    expect(held).toEqual(['pitch', 'common plan shift', 'common height']);
    expect(content.figures.held[0].reason).toMatch(/no crossing line and all lines run one way/);
    const of = (name: string) => content.figures.parameters.find((p) => p.name === name)!;
    expect(of('pitch')).toMatchObject({ solved: false, before: 0, after: 0 });
    expect(of('pitch').sd!).toBeGreaterThan(0.02);
    for (const name of ['roll', 'heading'] as const) {
      const p = of(name);
      expect(Math.abs(p.after - flight.trueMounting.boresightDeg[name]) / p.sd!).toBeLessThan(3);
    }
    expect(notices.filter((n) => n.code === 'strips-held')).toHaveLength(1);
  }, 900_000);
});

describe('what cannot be adjusted', () => {
  let paths: { [role: string]: string[] };
  beforeAll(async () => {
    const plan = drawFlightPlan(44, 'one way', 0.1, 2);
    // the second line a kilometre aside: nothing is seen twice
    plan.lines[1] = { from: [plan.lines[1].from[0], 5e3], to: [plan.lines[1].to[0], 6e3] };
    ({ paths } = await flightFiles(files, 'apart', plan));
  });

  it('is said: lines that do not overlap', async () => {
    await expect(run(paths, { minLengthM: 50 })).rejects.toThrow(expect.objectContaining({ code: 'strips-overlap' }));
    // as it stands they are shorter than strips of aircraft
    await expect(run(paths)).rejects.toThrow(expect.objectContaining({ code: 'strips-none' }));
  });

  it('is said: returns of another time', async () => {
    const text = await readFile(paths.trajectory[0], 'utf8');
    const later = text.replace(/^(2423),(\d+)/gm, (_all, week: string, sow: string) => `${week},${Number(sow) + 9000}`);
    await expect(run({ ...paths, trajectory: [await files.put('later.csv', later)] })).rejects.toThrow(
      expect.objectContaining({ code: 'strips-time' }),
    );
  });

  it('is said: a head that the mounting lacks', async () => {
    const other = await files.put(
      'other.json',
      JSON.stringify({ sensors: { left: { lever_arm_m: [0, 0, 0] }, right: { lever_arm_m: [0, 0, 0] } } }),
    );
    await expect(run({ ...paths, mounting: [other] })).rejects.toThrow(
      expect.objectContaining({ code: 'mounting-sensor', file: 'apart.laser.h5' }),
    );
  });

  it('is said: two files of one head, marks in another system, nothing to solve', async () => {
    await expect(run({ ...paths, returns: [paths.returns[0], paths.returns[0]] })).rejects.toThrow(
      expect.objectContaining({ code: 'strips-head-twice' }),
    );
    const marks = await files.put(
      'other.csv',
      '# crs: EPSG:25833+5773\nname,role,easting_m,northing_m,height_m\nA,control,1,2,3\n',
    );
    await expect(run({ ...paths, control: [marks] })).rejects.toThrow(
      expect.objectContaining({ code: 'crs-differs', file: 'other.csv' }),
    );
    await expect(run(paths, { boresight: false, shift: false, drift: false })).rejects.toThrow(
      /Nothing is to be solved/,
    );
  });
});
