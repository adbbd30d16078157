import { type ReferenceDto } from '@longheron/contract/api';
import { sentenceIn } from '@longheron/core/frames';
import { type NoticeRow, type Project } from '../database/models';

/** What a notice says, in the unit of its project; it is kept in metres. */
export function wordsOf(n: NoticeRow, project: Project): { text: string; effect?: string; remedy?: string } {
  const unit = (project.reference as ReferenceDto | null)?.unit ?? 'metre';
  const { effect, remedy } = n.detail;
  return {
    text: sentenceIn(n.text, unit),
    effect: effect && sentenceIn(effect, unit),
    remedy: remedy && sentenceIn(remedy, unit),
  };
}
