import { type RequestHandler } from 'express';
import { sendProblem } from './errors';

/**
 * Every request must carry a Host that is loopback or named by --host, and when it changes anything an Origin of the
 * same: otherwise a page elsewhere could post to loopback, or rebind its own name to it.
 */
export function guardHosts(named: string[]): RequestHandler {
  const allowed = new Set(['localhost', '127.0.0.1', '[::1]', ...named]);
  const nameOf = (host: string) => host.replace(/:\d+$/, '').toLowerCase();
  return (request, response, next) => {
    const host = request.headers.host ?? '';
    if (!allowed.has(nameOf(host))) {
      sendProblem(response, 403, `Requests to the host "${host}" are not answered.`, {
        code: 'host',
        remedy: 'Start with --host NAME to allow it.',
      });
      return;
    }
    if (!['GET', 'HEAD'].includes(request.method)) {
      const origin = request.headers.origin;
      let same = false;
      try {
        same = !!origin && new URL(origin).host === host;
      } catch {
        same = false;
      }
      if (!same) {
        sendProblem(response, 403, 'Changes are only taken from this application’s own pages.', { code: 'origin' });
        return;
      }
    }
    next();
  };
}
