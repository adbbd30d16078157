import { LAS_CLASS_NAMES } from '@longheron/core/cloud';
import { Style } from '../../database/models';

/** A class of a project's own, beyond those of the LAS standard. */
export interface OwnClass {
  code: number;
  name: string;
  /** As #rrggbb. */
  colour: string;
}

export const ownClassKind = (projectId: number) => `classes ${projectId}`;

export async function ownClassesOf(projectId: number): Promise<OwnClass[]> {
  const kept = await Style.findAll({ where: { kind: ownClassKind(projectId) } });
  return kept.map((k) => k.content as OwnClass).sort((a, b) => a.code - b.code);
}

/** Names of all classes of a project, by number. */
export async function classNames(projectId: number): Promise<string[]> {
  const nameOf = await classNamer(projectId);
  return Array.from({ length: 256 }, (_, c) => nameOf(c));
}

/** Name of a class in a project, for texts. */
export async function classNamer(projectId: number): Promise<(code: number) => string> {
  const own = new Map((await ownClassesOf(projectId)).map((c) => [c.code, c.name]));
  return (code) => own.get(code) ?? (LAS_CLASS_NAMES[code] ?? `class ${code}`).toLowerCase();
}
