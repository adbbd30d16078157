import { useLocalStorage } from '@vueuse/core';

/** Where the person was last, by `<project>/<stage>` the panel, by `<project>/<stage>/<panel>` the dataset. */
const last = useLocalStorage<Record<string, string>>('longheron.places', {});
const partsOf = (path: string) => /^\/project\/(\d+)\/([\w-]+)\/([\w-]+)(?:\/(\d+))?/.exec(path);

export function rememberPlace(path: string): void {
  const parts = partsOf(path);
  if (!parts) return;
  const [, project, stage, panel, dataset = ''] = parts;
  last.value = { ...last.value, [`${project}/${stage}`]: panel, [`${project}/${stage}/${panel}`]: dataset };
}

export const lastPanel = (project: string, stage: string): string | undefined => last.value[`${project}/${stage}`];
/** Last part of the address of a panel: the dataset that was looked at there. */
export const lastDataset = (project: string, stage: string, panel: string): string =>
  last.value[`${project}/${stage}/${panel}`] ?? '';
