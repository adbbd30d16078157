import { ref, shallowRef, watch, type Ref, type ShallowRef } from 'vue';

/** Something that is read from the server, and what became of it. */
export interface Loaded<T> {
  value: ShallowRef<T>;
  /** Why it could not be read; null when it could, or is on its way. */
  failed: Ref<string | null>;
  /** Whether an answer is waited for. */
  loading: Ref<boolean>;
  /** Reads once more. */
  again(): Promise<void>;
}

/**
 * Reads something whenever its key changes, and says so when that fails, so that nothing stands there as empty that was
 * only not read. An answer that comes after the key has changed is dropped.
 * @param key what is to be read; nothing without one. @param empty stands until it is there.
 */
export function useLoaded<K extends string | number, T>(
  key: () => K | undefined,
  read: (key: K) => Promise<T>,
  empty: T,
): Loaded<T> {
  const value = shallowRef(empty) as ShallowRef<T>;
  const failed = ref<string | null>(null);
  const loading = ref(false);
  let turn = 0;
  async function again(): Promise<void> {
    const mine = ++turn;
    const k = key();
    if (k === undefined) {
      value.value = empty;
      failed.value = null;
      loading.value = false;
      return;
    }
    loading.value = true;
    try {
      const got = await read(k);
      if (mine !== turn) return;
      value.value = got;
      failed.value = null;
    } catch (error) {
      if (mine !== turn) return;
      value.value = empty;
      failed.value = (error as Error).message;
    } finally {
      if (mine === turn) loading.value = false;
    }
  }
  watch(key, again, { immediate: true });
  return { value, failed, loading, again };
}
