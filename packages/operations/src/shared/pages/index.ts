import { Problem } from '@longheron/core/shared';
import { type Context } from '../../computation/types';
import { type Account } from './account';

export { type Account } from './account';
export { codePoints, reportFonts } from './fonts';

/** What a report prints beside its parts. @throws Problem where nothing was gathered. */
export function accountOf({ account }: Context): Account {
  if (account) return account;
  throw new Problem('A report needs its project.', { code: 'report', remedy: 'Write it in the application.' });
}

export const pageCount = (pdf: Buffer) => (pdf.toString('latin1').match(/\/Type\s*\/Page\b(?!s)/g) ?? []).length;
