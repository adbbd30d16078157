import { type ReferenceDto } from '../api';
import { kind } from '../declare/kind';

export interface Content {
  reference: ReferenceDto;
  /** Of its systems alone: computations are compared by it. */
  frameHash: string;
}

export default kind<Content>({ name: 'Reference line', counts: '', exports: {} });
