import { type Request } from 'express';
import { type ClassConstructor } from 'class-transformer';
import { check } from '@longheron/contract/requests';
import { HttpError } from './errors';

/** The validated body of a request; 400 with field and sentence otherwise. */
export function bodyOf<T extends object>(request: Request, type: ClassConstructor<T>): T {
  const checked = check(type, request.body);
  if ('message' in checked) throw new HttpError(400, checked.message, { code: 'invalid', field: checked.field });
  return checked.value;
}

/** A positive whole number from the path. */
export function idOf(request: Request, name = 'id'): number {
  const value = Number(request.params[name]);
  if (!Number.isSafeInteger(value) || value <= 0)
    throw new HttpError(404, 'There is nothing at this address.', { code: 'not-found' });
  return value;
}
