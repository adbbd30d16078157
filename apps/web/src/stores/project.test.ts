// @vitest-environment happy-dom
import { afterEach, describe, expect, it, vi } from 'vitest';
import { dataset, notice, opened, run } from '../test/project';
import { useProject } from './project';

const told: string[] = [];
vi.mock('element-plus', () => ({ ElMessage: ({ message }: { message: string }) => told.push(message) }));
afterEach(() => {
  useProject().close();
  told.length = 0;
  vi.unstubAllGlobals();
});

const facts = (startGps: number, endGps: number) => ({ facts: { startGps, endGps } });

describe('the open project', () => {
  it('has what the server knows, by kind and stage', async () => {
    const cloud = dataset(3, 'point-cloud', {}, { stage: 'place' });
    const { store } = await opened({ datasets: [dataset(1, 'marks', { marks: [] }), cloud], runs: [run(1)] });
    expect(store.loaded).toBe(true);
    expect(store.project!.name).toBe('Reach');
    expect(store.ofKind('point-cloud').map((d) => d.id)).toEqual([3]);
    expect(store.ofKind('point-cloud', 'clean')).toEqual([]);
    expect(store.latest('marks')!.id).toBe(1);
    expect(store.latest('surface')).toBeUndefined();
  });

  it('that cannot be opened says why, and stays empty', async () => {
    const { server, store } = await opened();
    server.refused.set('GET /projects/8', { title: 'There is no project 8.', status: 404 });
    await store.open(8);
    expect(store.error).toBe('There is no project 8.');
    expect([store.project, store.loaded, store.datasets.length]).toEqual([null, false, 0]);
  });

  it('works with the latest trajectory that has attitude and covers laser returns', async () => {
    const trajectory = (id: number, point: string, from: number, to: number) =>
      dataset(id, 'trajectory', { point, ...facts(from, to) }, { stage: 'position' });
    const { store, now } = await opened({
      datasets: [
        dataset(1, 'laser-returns', facts(100, 200)),
        trajectory(2, 'imu', 90, 210),
        trajectory(3, 'antenna', 90, 210),
        trajectory(4, 'imu', 500, 600),
      ],
    });
    expect(store.trajectory()!.id).toBe(2);
    now({ datasets: [trajectory(3, 'antenna', 90, 210), trajectory(4, 'imu', 500, 600)] });
    await store.refresh();
    // none covers anything: the latest with attitude
    expect(store.trajectory()!.id).toBe(4);
    now({ datasets: [trajectory(3, 'antenna', 90, 210)] });
    await store.refresh();
    expect(store.trajectory()!.id).toBe(3);
  });

  it('tells the state of each stage: at work, out of date, notices, done', async () => {
    const surface = dataset(5, 'surface', {}, { stage: 'deliver', outOfDate: true });
    const { store, now } = await opened({
      datasets: [
        dataset(1, 'marks', { marks: [] }),
        dataset(2, 'trajectory', { point: 'imu' }, { stage: 'position' }),
        dataset(3, 'point-cloud', {}, { stage: 'place' }),
        surface,
      ],
      notices: [notice(1, { datasetId: 2 }), notice(2, { datasetId: 1, severity: 'info' })],
      runs: [run(1, { operation: 'classify', status: 'running', endedAt: null })],
    });
    const stateOf = () => Object.fromEntries(store.stages.map((s) => [s.stage, s.state]));
    expect(stateOf()).toEqual({
      gather: 'done',
      position: 'needs attention',
      place: 'done',
      clean: 'in progress',
      prove: 'nothing yet',
      deliver: 'out of date',
    });
    expect(store.openNotices.map((n) => n.id)).toEqual([1]);
    now({ runs: [run(1, { operation: 'intake', status: 'queued' })] });
    await store.refresh();
    expect(stateOf().gather).toBe('in progress');
  });

  it('calls a trajectory that came with the files given', async () => {
    const { store, now } = await opened({ datasets: [dataset(2, 'trajectory', { point: 'imu' })] });
    const position = () => store.stages.find((s) => s.stage === 'position')!.state;
    expect(position()).toBe('given');
    now({
      datasets: [
        dataset(2, 'trajectory', { point: 'imu' }),
        dataset(3, 'trajectory', { point: 'imu' }, { stage: 'position' }),
      ],
    });
    await store.refresh();
    expect(position()).toBe('done');
  });

  it('sends a run with its inputs and settings, over a result where one is named', async () => {
    const { server, store } = await opened();
    await store.run('smooth', { cloud: 3 }, { radiusM: 0.3 });
    await store.run('smooth', { cloud: 3 }, {}, 9);
    expect(server.sent('POST', '/projects/7/runs')).toEqual([
      { operation: 'smooth', inputs: { cloud: 3 }, settings: { radiusM: 0.3 } },
      { operation: 'smooth', inputs: { cloud: 3 }, settings: {}, outputDataset: 9 },
    ]);
  });

  it('says what the server refuses, with the remedy, and that it does not answer', async () => {
    const { server, store } = await opened();
    server.refused.set('POST /projects/7/runs', { title: 'The cloud is not prepared.', remedy: 'Wait for it.' });
    await store.run('smooth', { cloud: 3 }, {});
    expect(told).toEqual(['The cloud is not prepared. Wait for it.']);
    server.offline = true;
    expect(await store.attempt(() => store.refresh())).toBe(false);
    expect(told[1]).toBe('The server does not answer. Check that it is still running, then try again.');
  });

  it('tells once when a job fails, with file, place and remedy', async () => {
    const running = run(1, { status: 'running', endedAt: null });
    const { store, now } = await opened({ runs: [running] });
    const error = { message: 'The file ends early.', file: 'r.h5', place: 'byte 12', remedy: 'Copy it again.' };
    now({ runs: [run(1, { status: 'failed', error })] });
    await store.refresh();
    await store.refresh();
    expect(told).toEqual(['Make the cloud: r.h5, byte 12: The file ends early. Copy it again.']);
  });

  it('steps back and forth, and says where it has come to', async () => {
    const cloud = dataset(3, 'point-cloud');
    const { server, store } = await opened({ datasets: [cloud] });
    server.on('POST /projects/7/datasets/3/undo', { revision: 4 });
    await store.stepBack(cloud, 'undo');
    expect(told).toEqual(['Undone: "point-cloud 3" is at revision 4.']);
  });
});
