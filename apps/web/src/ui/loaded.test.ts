import { describe, expect, it } from 'vitest';
import { effectScope, nextTick, ref } from 'vue';
import { useLoaded } from './loaded';

/** Runs what a component would, and lets what is waiting happen. */
const settle = async () => {
  for (let k = 0; k < 5; k++) await Promise.resolve();
  await nextTick();
};

describe('what is read from the server', () => {
  it('stands empty until it is there, and goes with its key', async () => {
    const key = ref<string | undefined>('a');
    const scope = effectScope();
    const loaded = scope.run(() =>
      useLoaded(
        () => key.value,
        (k) => Promise.resolve([k]),
        [] as string[],
      ),
    )!;
    expect(loaded.value.value).toEqual([]);
    await settle();
    expect(loaded.value.value).toEqual(['a']);
    key.value = undefined;
    await settle();
    expect([loaded.value.value, loaded.failed.value]).toEqual([[], null]);
    scope.stop();
  });

  it('says why it failed, and comes when it is asked for again', async () => {
    let works = false;
    const scope = effectScope();
    const loaded = scope.run(() =>
      useLoaded(
        () => 1,
        () => (works ? Promise.resolve('there') : Promise.reject(new Error('The server does not answer.'))),
        '',
      ),
    )!;
    await settle();
    expect([loaded.value.value, loaded.failed.value]).toEqual(['', 'The server does not answer.']);
    works = true;
    await loaded.again();
    expect([loaded.value.value, loaded.failed.value]).toEqual(['there', null]);
    scope.stop();
  });

  it('drops an answer that comes after its key has changed', async () => {
    const answers = new Map<string, (v: string) => void>();
    const key = ref('old');
    const scope = effectScope();
    const loaded = scope.run(() =>
      useLoaded(
        () => key.value,
        (k) => new Promise<string>((resolve) => answers.set(k, resolve)),
        '',
      ),
    )!;
    key.value = 'new';
    await settle();
    answers.get('new')!('of the new');
    answers.get('old')!('of the old');
    await settle();
    expect(loaded.value.value).toBe('of the new');
    scope.stop();
  });
});
