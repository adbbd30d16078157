import { createPinia, setActivePinia } from 'pinia';
import { effectScope, nextTick, shallowRef, type EffectScope } from 'vue';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { type DatasetDto } from '@longheron/contract/api';
import { useProject } from '../stores/project';
import { useSettings } from './settings';

interface Revision {
  id: number;
  number: number;
  madeBy: string;
  current: boolean;
  settings: object | null;
}
/** Revisions by dataset, as the server lists them. */
const revisions = new Map<number, Revision[]>();
let scope: EffectScope;

beforeEach(() => {
  setActivePinia(createPinia());
  const store = useProject();
  store.project = { id: 1 } as typeof store.project;
  scope = effectScope();
  revisions.clear();
  vi.stubGlobal('fetch', async (path: string) => {
    const id = Number(/datasets\/(\d+)\/revisions$/.exec(path)?.[1]);
    return Response.json(revisions.get(id) ?? []);
  });
});
afterEach(() => {
  scope.stop();
  vi.unstubAllGlobals();
});

const dataset = (id: number, revision: number) => ({ id, revision: { id: revision } }) as DatasetDto;
const settled = () => new Promise((resolve) => setTimeout(resolve, 20));
const made = shallowRef<DatasetDto | undefined>();
const form = () => scope.run(() => useSettings('agreement', () => made.value))!;
const USUAL_CELL_M = 1;

describe('the settings in a form', () => {
  it('are the usual ones while there is no result, and again when they are asked for', async () => {
    made.value = undefined;
    const { settings, usual } = form();
    expect(settings.value.cellM).toBe(USUAL_CELL_M);
    settings.value = { ...settings.value, cellM: 7 };
    usual();
    expect(settings.value.cellM).toBe(USUAL_CELL_M);
  });

  it('are those that the shown result was made with; what it does not say is usual, what is no setting is left out', async () => {
    revisions.set(5, [{ id: 50, number: 1, madeBy: 'agreement', current: true, settings: { cellM: 2.5, old: 1 } }]);
    made.value = dataset(5, 50);
    const { settings } = form();
    await settled();
    expect(settings.value).toMatchObject({ cellM: 2.5, groundOnly: false });
    expect(settings.value).not.toHaveProperty('old');
  });

  it('stay as a person changed them until the result is another one', async () => {
    const at = (id: number, number: number, cellM: number): Revision => ({
      id,
      number,
      madeBy: 'agreement',
      current: true,
      settings: { cellM },
    });
    revisions.set(5, [at(50, 1, 2)]);
    made.value = dataset(5, 50);
    const { settings } = form();
    await settled();
    settings.value = { ...settings.value, cellM: 9 };
    // the list of datasets was fetched again: the same result
    made.value = dataset(5, 50);
    await settled();
    expect(settings.value.cellM).toBe(9);
    revisions.set(5, [{ ...at(50, 1, 2), current: false }, at(51, 2, 3)]);
    made.value = dataset(5, 51);
    await settled();
    expect(settings.value.cellM).toBe(3);
  });

  it('are those of the latest run when something else was done to the result since', async () => {
    revisions.set(5, [
      { id: 52, number: 3, madeBy: 'edit', current: true, settings: null },
      { id: 51, number: 2, madeBy: 'agreement', current: false, settings: { cellM: 4 } },
      { id: 50, number: 1, madeBy: 'agreement', current: false, settings: { cellM: 2 } },
    ]);
    made.value = dataset(5, 52);
    const { settings } = form();
    await settled();
    await nextTick();
    expect(settings.value.cellM).toBe(4);
  });
});
