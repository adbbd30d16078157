import { ref, watch, type Ref } from 'vue';
import { api, sendBeforeLeaving } from '../api/client';

/** Something of what a person sees of a project. */
interface Kept {
  value: Ref<unknown>;
  usual: string;
}

type Look = { [name: string]: unknown };

const all = new Map<string, Kept>();
/** The project that the values are of; 0 while none is open. */
let project = 0;
/** What was taken over from the server; some of it may not have been asked for yet. */
let opened: Look = {};
/** What the server has, as text. */
let saved = '{}';
let timer: ReturnType<typeof setTimeout> | undefined;

const SOON_MS = 400;

/** What differs from the usual, and what no part of the screen has asked for. */
function now(): string {
  const out: Look = { ...opened };
  for (const [name, { value, usual }] of all) {
    const text = JSON.stringify(value.value);
    delete out[name];
    if (text !== usual) out[name] = JSON.parse(text);
  }
  return JSON.stringify(out);
}

const taken = (name: string, usual: string): unknown => (name in opened ? opened[name] : JSON.parse(usual));

const pathOf = (id: number) => `/projects/${id}/look`;

async function save(): Promise<void> {
  clearTimeout(timer);
  timer = undefined;
  const text = now();
  if (!project || text === saved) return;
  const before = saved;
  saved = text;
  // what could not be kept is tried again with the next change
  await api.put(pathOf(project), { look: JSON.parse(text) }).catch(() => (saved = before));
}

/**
 * A value that belongs to the project, not to the browser: the server keeps it, so that a reload, another browser and
 * another computer show the same. With two windows open the last change counts.
 * @param name under which it is kept. @param usual until it was changed; must go through JSON unchanged.
 */
export function kept<T>(name: string, usual: T): Ref<T> {
  const text = JSON.stringify(usual);
  const known = all.get(name);
  // a copy of its own, so that what is changed within it is not changed in the usual
  const value = known?.value ?? ref(taken(name, text));
  if (!known) {
    all.set(name, { value, usual: text });
    watch(value, () => (timer ??= project ? setTimeout(() => void save(), SOON_MS) : undefined), { deep: true });
  }
  // each name has one type
  return value as Ref<T>;
}

/** Leaves the project that is shown: what was changed last is sent, all values are the usual ones again. */
export async function leaveLook(): Promise<void> {
  await save();
  project = 0;
  opened = {};
  for (const { value, usual } of all.values()) value.value = JSON.parse(usual);
}

/** Takes over what a person last saw of a project, before any of it is shown. */
export async function openLook(id: number): Promise<void> {
  await leaveLook();
  const look = await api.get<Look>(pathOf(id)).catch(() => undefined);
  // what could not be read is not written over: until the project is opened again nothing is kept
  if (!look) return;
  opened = look;
  for (const [name, { value, usual }] of all) value.value = taken(name, usual);
  saved = now();
  project = id;
}

if (typeof window !== 'undefined')
  window.addEventListener('pagehide', () => {
    const text = now();
    if (project && text !== saved) sendBeforeLeaving(pathOf(project), { look: JSON.parse(text) });
  });
