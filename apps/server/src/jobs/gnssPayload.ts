import { type Mark } from '@longheron/core/accuracy';
import { Problem } from '@longheron/core/shared';
import { type ObjectStore } from '../storage';
import { type Current } from './operations';

const FILES = ['rover', 'base', 'navigation', 'orbits', 'calibrations'];

/** Files, names, mounting and base mark of a computation of a trajectory. */
export function gnssPayload(
  inputs: Record<string, Current[]>,
  settings: Record<string, unknown>,
  store: ObjectStore,
): Record<string, unknown> {
  const content = (role: string, i = 0) => inputs[role][i].revision.content as Record<string, never>;
  const path = (role: string, i = 0) => store.path(content(role, i).object);
  const files = Object.fromEntries(FILES.map((role) => [role, inputs[role].map((_, i) => path(role, i))]));
  const names: Record<string, string> = Object.fromEntries(
    FILES.flatMap((role) => files[role].map((p, i) => [p, inputs[role][i].dataset.name])),
  );
  const inertial = inputs.inertial.length ? path('inertial') : undefined;
  if (inertial && inputs.antenna.length === 0)
    throw new Problem('Inertial data need a mounting with the lever arm to the antenna.', {
      code: 'input',
      place: 'antenna',
      remedy: 'Choose it in the sheet.',
    });
  if (inertial) names[inertial] = inputs.inertial[0].dataset.name;
  const mounting = inertial ? content('antenna').mounting : undefined;
  return { ...files, inertial, mounting, names, baseMark: baseMark(inputs.baseMarks[0], settings.baseMark) };
}

function baseMark(list: Current | undefined, name: unknown): Mark | undefined {
  if (!list) return undefined;
  const marks = (list.revision.content.marks as Mark[] | undefined) ?? [];
  const mark = marks.find((m) => m.name === name);
  if (!mark)
    throw new Problem(`There is no mark ${String(name)} in "${list.dataset.name}".`, {
      code: 'input',
      place: 'baseMarks',
      remedy: 'Choose the mark that the base stands on.',
    });
  return mark;
}

/** Paths of the files of each role, what people called them (filled as they are asked for), and the known marks. */
function inputFiles(inputs: Record<string, Current[]>, store: ObjectStore) {
  const names: Record<string, string> = {};
  const files = (role: string) =>
    (inputs[role] ?? []).map(({ dataset, revision }) => {
      const path = store.path((revision.content as { object: string }).object);
      names[path] = dataset.name;
      return path;
    });
  const known = (inputs.known ?? []).flatMap((k) => (k.revision.content.marks as Mark[] | undefined) ?? []);
  return { files, names, known };
}

/** Files, names, mounting and known marks of what is made of a trajectory. */
export function afterPosition(inputs: Record<string, Current[]>, store: ObjectStore): Record<string, unknown> {
  const { files, names, known } = inputFiles(inputs, store);
  const one = (role: string) => files(role)[0] as string | undefined;
  const [trajectory, occupations, events, photos, geoid] = [
    ...['trajectory', 'occupations', 'events', 'photos', 'geoid'],
  ].map(one);
  const mounting = inputs.mounting?.[0]?.revision.content.mounting;
  return { parts: files('parts'), trajectory, occupations, events, photos, geoid, mounting, known, names };
}

/** Files, names and known marks of a network. */
export function networkPayload(inputs: Record<string, Current[]>, store: ObjectStore): Record<string, unknown> {
  const { files, names, known } = inputFiles(inputs, store);
  return {
    ...{ recordings: files('recordings'), navigation: files('navigation'), orbits: files('orbits') },
    ...{ calibrations: files('calibrations'), measured: files('measured')[0], known, names },
  };
}
