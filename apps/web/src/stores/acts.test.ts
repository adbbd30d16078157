// @vitest-environment happy-dom
import { flushPromises } from '@vue/test-utils';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { dataset, opened } from '../test/project';
import { useActs } from './acts';
import { useContourStyles } from './contourStyles';
import { useOwnClasses } from './ownClasses';
import { useStrips } from './strips';
import { useProject } from './project';

vi.mock('element-plus', () => ({ ElMessage: () => undefined }));
afterEach(() => {
  useProject().close();
  vi.unstubAllGlobals();
});
const ALL = { regions: [], inverted: false, filter: { hiddenClasses: [], rejected: 'hidden' as const } };

describe('acts on points', () => {
  it('wait for each other, and each begins from what the one before has made', async () => {
    const at = (id: number) => dataset(3, 'point-cloud', {}, { revision: { id } });
    const { server, now } = await opened({ datasets: [at(50)] });
    let revision = 50;
    server.on('POST /projects/7/datasets/3/edit', () => {
      revision++;
      now({ datasets: [at(revision)] });
      return {};
    });
    const acts = useActs();
    const first = acts.act(3, ALL, { kind: 'reject' }, 'Rejecting');
    const second = acts.act(3, ALL, { kind: 'class', to: 6 }, 'To buildings');
    expect(acts.waiting).toBe(2);
    expect(await Promise.all([first, second])).toEqual([true, true]);
    await flushPromises();
    expect([acts.waiting, acts.busy]).toEqual([0, '']);
    expect(server.sent('POST', '/projects/7/datasets/3/edit')).toEqual([
      { selection: ALL, act: { kind: 'reject' }, revision: 50 },
      { selection: ALL, act: { kind: 'class', to: 6 }, revision: 51 },
    ]);
  });

  it('that the server refuses do not hold up those after them', async () => {
    const { server } = await opened({ datasets: [dataset(3, 'point-cloud')] });
    server.refused.set('POST /projects/7/datasets/3/edit', { title: 'The selection holds no points.' });
    const acts = useActs();
    expect(await acts.act(3, ALL, { kind: 'reject' }, 'Rejecting')).toBe(false);
    server.refused.clear();
    expect(await acts.act(3, ALL, { kind: 'reject' }, 'Rejecting')).toBe(true);
  });
});

describe('strips of a cloud', () => {
  it('are its own or those of the cloud that it was made of', async () => {
    const placed = dataset(1, 'point-cloud', { figures: { strips: [{ id: 1 }, { id: 4 }] } });
    const inputs = (id: number) => [{ role: 'cloud', datasetId: id, revisionId: 1, contentHash: '' }];
    const classified = dataset(2, 'point-cloud', {}, { revision: { inputs: inputs(1) } });
    const { store } = await opened({ datasets: [placed, classified] });
    const of = (id: number) => useStrips(() => store.ofKind('point-cloud').find((d) => d.id === id))();
    expect([of(1), of(2), of(9)]).toEqual([[1, 4], [1, 4], []]);
  });
});

describe('classes of the project', () => {
  it('stand among those of the standard, and are kept and removed on the server', async () => {
    const { server } = await opened();
    const own = { code: 64, name: 'Reed', colour: '#88aa44' };
    server.on('GET /projects/7/classes', [own]);
    const classes = useOwnClasses();
    await flushPromises();
    expect(classes.codes).toContain(64);
    expect(classes.codes).toContain(2);
    expect([...classes.codes]).toEqual([...classes.codes].sort((a, b) => a - b));
    expect(await classes.keep(own)).toBe(true);
    expect(await classes.remove(64)).toBe(true);
    expect(server.sent('PUT', '/projects/7/classes')).toEqual([own]);
    expect(server.asked.some((a) => a.method === 'DELETE' && a.path === '/projects/7/classes/64')).toBe(true);
  });
});

describe('looks of contours', () => {
  it('are tried before they are kept; without any the first is used', async () => {
    const { server } = await opened();
    const mine = { ...useContourStyles().list[0], name: 'Mine' };
    server.on('GET /contour-styles', [...useContourStyles().list, mine]);
    const styles = useContourStyles();
    const first = styles.current.name;
    styles.trial = mine;
    expect(styles.current.name).toBe('Mine');
    await styles.keep(mine);
    expect([styles.trial, styles.chosen.name]).toEqual([null, 'Mine']);
    expect([styles.isOurs('Mine'), styles.isOurs(first)]).toEqual([false, true]);
  });
});
