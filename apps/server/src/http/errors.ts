import { type ErrorRequestHandler, type Response } from 'express';
import { fullDisk, isFullDisk } from '../storage/fullDisk';
import { Problem } from '@longheron/core/shared';
import { type ProblemDto } from '@longheron/contract/api';

export class HttpError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly details: Partial<ProblemDto> = {},
  ) {
    super(message);
  }
}

export function sendProblem(
  response: Response,
  status: number,
  title: string,
  details: Partial<ProblemDto> = {},
): void {
  response
    .status(status)
    .type('application/problem+json')
    .send(JSON.stringify({ type: 'about:blank', title, status, code: 'error', ...details }));
}

/** The status of what the parts of the server refuse themselves: an unknown charset, a percent code that is none. */
function refusal(error: unknown): number | undefined {
  const { status } = error as { status?: unknown };
  return typeof status === 'number' && status >= 400 && status < 500 ? status : undefined;
}

/** Words of another's refusal as a sentence. */
const sentence = (text: string) => `${text[0]?.toUpperCase() ?? ''}${text.slice(1)}`.replace(/[^.!?]$/, '$&.');

/**
 * Errors as application/problem+json: a code, a sentence, the field at fault, what to do.
 * @param folder where everything is kept: a full disk is said of it.
 */
export const errorHandler =
  (folder: string): ErrorRequestHandler =>
  (error, request, response, next) => {
    if (response.headersSent) {
      next(error);
      return;
    }
    const status = refusal(error);
    if (error instanceof HttpError) sendProblem(response, error.status, error.message, error.details);
    else if (error instanceof Problem)
      sendProblem(response, 422, error.message, {
        code: error.code,
        file: error.file,
        place: error.place,
        remedy: error.remedy,
      });
    else if ((error as { type?: string }).type === 'entity.parse.failed')
      sendProblem(response, 400, 'The request is not valid JSON.', { code: 'json' });
    else if ((error as { type?: string }).type === 'entity.too.large')
      sendProblem(response, 413, 'The request is too large.', { code: 'size', remedy: 'Send files by upload.' });
    else if (isFullDisk(error))
      fullDisk(folder, 'try again')
        .then(({ message, place, remedy }) => sendProblem(response, 507, message, { code: 'disk-full', place, remedy }))
        .catch(next);
    else if (status) sendProblem(response, status, sentence((error as Error).message), { code: 'request' });
    else {
      request.log?.error(error);
      sendProblem(response, 500, 'An unexpected fault. It is in the server’s log.', { code: 'fault' });
    }
  };
