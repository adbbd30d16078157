/** The six stages in the order in which the work is done. */
export const STAGES = ['gather', 'position', 'place', 'clean', 'prove', 'deliver'] as const;
export type Stage = (typeof STAGES)[number];
export const STAGE_NAMES: Record<Stage, string> = {
  gather: 'Gather',
  position: 'Position',
  place: 'Place',
  clean: 'Clean',
  prove: 'Prove',
  deliver: 'Deliver',
};
export const isStage = (name: string): name is Stage => STAGES.some((s) => s === name);
