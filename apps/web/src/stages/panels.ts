import { OPERATION_NAMES, OPERATIONS } from '@longheron/contract/operations';
import { type Stage } from '@longheron/contract/stages';
import { type PanelDeclaration } from './panel';

export interface Panel extends Omit<PanelDeclaration, 'component'>, Partial<Pick<PanelDeclaration, 'component'>> {
  stage: Stage;
  name: string;
}

const found = import.meta.glob<{ default: PanelDeclaration }>('./*/*/panel.ts', { eager: true });
const declared = Object.entries(found).map(([path, { default: d }]): Panel => {
  const [, stage, name] = path.split('/');
  return { ...d, stage: stage as Stage, name };
});
const shown = new Set(declared.flatMap((p) => p.operations ?? []));
/** An operation that no panel shows gets one that is drawn from its declaration alone. */
const drawn = OPERATION_NAMES.filter((name) => !shown.has(name)).map((name): Panel => {
  const { stage, title, result } = OPERATIONS[name];
  return {
    stage,
    name,
    title,
    what: title,
    order: 1000,
    operations: [name],
    kinds: [result],
  };
});

/** Every panel, stage by stage in its order. */
export const PANELS: Panel[] = [...declared, ...drawn].sort(
  (a, b) => a.order - b.order || a.name.localeCompare(b.name),
);
export const panelsOf = (stage: Stage): Panel[] => PANELS.filter((p) => p.stage === stage);
