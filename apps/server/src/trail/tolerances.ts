import { type ToleranceName } from '@longheron/contract/declare';
import { type Project } from '../database/models';

/** A tolerance of a project by its name: metres, of classes per cent. */
export function toleranceOf(project: Project, name: ToleranceName = 'height'): number {
  switch (name) {
    case 'plan':
      return project.planToleranceM ?? project.toleranceM;
    case 'classes':
      return project.classTolerance;
    case 'surface':
      return project.surfaceToleranceM;
    default:
      return project.toleranceM;
  }
}

/** A tolerance in words. */
export const toleranceWords = (value: number, name: ToleranceName = 'height') =>
  name === 'classes' ? `${value} %` : `${(1000 * value).toFixed(1)} mm`;
