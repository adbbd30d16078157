import { createHash } from 'node:crypto';
import { type Request, type Response } from 'express';
import { type Sequelize, type Transaction } from 'sequelize';

/** Lists kept ready: those of so many projects are asked for at once. */
const MAX_KEPT = 200;

interface Kept {
  version: string;
  answer: Promise<{ body: Buffer; tag: string }>;
}

/**
 * Lists that many people ask for again and again. One is made when something has changed since it was made last, once
 * for all who ask meanwhile; whoever has it already is told so (ETag). This process alone writes the tables, so that
 * counting its own changes is enough.
 */
export class Lists {
  private changes = 0;
  private readonly kept = new Map<string, Kept>();

  /** Counts every change of the tables, those of a transaction again when it is committed. */
  watch(sequelize: Sequelize): void {
    const count = (options: { transaction?: Transaction | null } | undefined) => {
      this.changes++;
      options?.transaction?.afterCommit(() => {
        this.changes++;
      });
    };
    for (const one of ['afterCreate', 'afterUpdate', 'afterDestroy', 'afterUpsert', 'afterBulkCreate'] as const)
      sequelize.addHook(one, (_: unknown, options: { transaction?: Transaction | null }) => count(options));
    sequelize.addHook('afterBulkUpdate', count);
    sequelize.addHook('afterBulkDestroy', count);
  }

  /**
   * Answers with a list.
   * @param make reads it; what it throws is answered in words and not kept.
   * @param also changes with what the list holds besides the tables.
   */
  async send(request: Request, response: Response, make: () => Promise<unknown>, also = 0): Promise<void> {
    const version = `${this.changes}.${also}`;
    const key = request.originalUrl;
    let kept = this.kept.get(key);
    if (kept?.version !== version) {
      kept = { version, answer: make().then(answerOf) };
      this.keep(key, kept);
    }
    const { body, tag } = await kept.answer;
    response.setHeader('ETag', tag);
    response.setHeader('Cache-Control', 'no-cache');
    const known = (request.headers['if-none-match'] ?? '').split(',').map((t) => t.trim());
    if (known.includes(tag)) response.status(304).end();
    else response.type('application/json').send(body);
  }

  private keep(key: string, kept: Kept): void {
    this.kept.delete(key);
    this.kept.set(key, kept);
    // the one that was made longest ago goes
    if (this.kept.size > MAX_KEPT) this.kept.delete(this.kept.keys().next().value!);
    kept.answer.catch(() => {
      if (this.kept.get(key) === kept) this.kept.delete(key);
    });
  }
}

function answerOf(list: unknown): { body: Buffer; tag: string } {
  const body = Buffer.from(JSON.stringify(list));
  return { body, tag: `"${createHash('sha256').update(body).digest('base64url').slice(0, 27)}"` };
}
