// What a dump of the database says of itself, written with it and looked at before it is put back.
import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { Writable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { StatementCheck } from './dumpStatements.mjs';

const MARK = '-- keen-meridian dump: ';
const INSERT = Buffer.from('\nINSERT INTO `');
const CREATE = Buffer.from('\nCREATE TABLE `');

/** The last line of a dump. */
export const trailerOf = (facts) => `${MARK}${JSON.stringify(facts)}\n`;

/** Counts tables and rows of a dump with one row a line, whatever pieces it comes in. */
export class RowCounter {
  #rest = Buffer.from('\n');
  #tables = {};
  read(chunk) {
    const all = Buffer.concat([this.#rest, chunk]);
    // what a name may be cut off in stays for the next piece
    const end = all.lastIndexOf(0x0a);
    this.#count(all, end, CREATE, 0);
    this.#count(all, end, INSERT, 1);
    this.#rest = all.subarray(end);
  }
  #count(all, end, mark, rows) {
    for (let at = all.indexOf(mark); at >= 0 && at < end; at = all.indexOf(mark, at + mark.length)) {
      const from = at + mark.length;
      const name = all.toString('utf8', from, all.indexOf(0x60, from));
      this.#tables[name] = (this.#tables[name] ?? 0) + rows;
    }
  }
  tables() {
    return this.#tables;
  }
}

/**
 * Reads a dump through without touching any database: what it counts, and whether it holds anything but tables and rows.
 * @returns rows by table, and whether they and the checksum are those the dump was written with
 * @throws saying what is wrong: not compressed, cut off, changed, or no dump of this application
 */
export async function examine(file) {
  const counter = new RowCounter();
  const statements = new StatementCheck();
  const sum = createHash('sha256');
  /** The last bytes: only when the next piece has come is it known that they are not the closing line. */
  let held = Buffer.alloc(0);
  const KEEP = 65_536;
  const reader = new Writable({
    write(chunk, _encoding, done) {
      held = Buffer.concat([held, chunk]);
      if (held.length > 2 * KEEP) {
        const past = held.subarray(0, held.length - KEEP);
        sum.update(past);
        counter.read(past);
        try {
          statements.read(past);
        } catch (e) {
          return done(Object.assign(e, { said: true }));
        }
        held = Buffer.from(held.subarray(held.length - KEEP));
      }
      done();
    },
  });
  try {
    await pipeline(createReadStream(file), createGunzip(), reader);
  } catch (e) {
    if (e.said) throw e;
    throw new Error(
      e.code === 'Z_BUF_ERROR'
        ? 'it is cut off: the end of the file is missing'
        : 'it is not a compressed dump (keen-….sql.gz as `npm run backup` writes it), or it is damaged',
      { cause: e },
    );
  }
  const at = held.lastIndexOf(MARK);
  const past = at < 0 ? held : held.subarray(0, at);
  sum.update(past);
  counter.read(past);
  const tables = counter.tables();
  const looked = () => {
    statements.read(past);
    statements.end();
  };
  if (at < 0) {
    if (!held.toString('utf8').includes('-- Dump completed'))
      throw new Error('it does not end as a dump does: it is cut off, or no dump');
    if (!('schema_migrations' in tables)) throw new Error('it is a dump of something else: its tables are not ours');
    looked();
    return { tables, verified: false };
  }
  const facts = JSON.parse(held.toString('utf8', at + MARK.length));
  if (facts.sha256 !== sum.digest('hex')) throw new Error('its checksum does not fit: it was changed or damaged');
  looked();
  return { tables: facts.tables, verified: true };
}
