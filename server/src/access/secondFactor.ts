import { createCipheriv, createDecipheriv, createHmac, hkdfSync, randomBytes } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import { QueryTypes, type Transaction } from 'sequelize';
import type { Config } from '../config.ts';
import type { Store } from '../store.ts';

/** Digits, seconds and hash that every authenticator understands (RFC 6238). */
const KIND = { algorithm: 'SHA1', digits: 6, period: 30 } as const;
/** A device's clock may be off by one period either way. */
const WINDOW = 1;
/** Codes for the day the device is lost. */
const RECOVERY_CODES = 8;

/**
 * Codes that change with time (RFC 6238) beside the password. The key is kept sealed with the server's own secret, so that a
 * dump of the database alone yields no codes. Each code and each recovery code is taken once, over all processes.
 */
export function secondFactor(store: Store, config: Pick<Config, 'secret'>) {
  const sealing = Buffer.from(hkdfSync('sha256', config.secret, '', 'second factor', 32));
  function seal(text: string): string {
    const nonce = randomBytes(12);
    const c = createCipheriv('aes-256-gcm', sealing, nonce);
    return Buffer.concat([nonce, c.update(text, 'utf8'), c.final(), c.getAuthTag()]).toString('base64');
  }
  /** Null where the server's secret is another one than when it was sealed. */
  function unseal(sealed: string): string | null {
    const all = Buffer.from(sealed, 'base64');
    const d = createDecipheriv('aes-256-gcm', sealing, all.subarray(0, 12));
    d.setAuthTag(all.subarray(-16));
    try {
      return Buffer.concat([d.update(all.subarray(12, -16)), d.final()]).toString('utf8');
    } catch {
      return null;
    }
  }
  const totp = (key: string, label: string) =>
    new TOTP({ issuer: 'Keen Meridian', label, secret: Secret.fromBase32(key), ...KIND });
  const hashed = (memberId: string, code: string) =>
    createHmac('sha256', sealing)
      .update(`${memberId} ${code.replace(/[\s-]/g, '').toLowerCase()}`)
      .digest('hex');

  /** The period a code belongs to, or null. */
  function stepOf(key: string, code: string): number | null {
    const digits = code.replace(/\s/g, '');
    if (!/^\d{6}$/.test(digits)) return null;
    const timestamp = store.now().getTime();
    const delta = totp(key, '').validate({ token: digits, window: WINDOW, timestamp });
    return delta === null ? null : Math.floor(timestamp / 1000 / KIND.period) + delta;
  }
  const ask = async (sql: string, replacements: Record<string, unknown>, t?: Transaction) => {
    const [, changed] = await store.db.query(sql, {
      replacements,
      type: QueryTypes.UPDATE,
      ...(t ? { transaction: t } : {}),
    });
    return changed > 0;
  };

  return {
    /** A new key for a device, not in force before a first code of it was given. */
    prepare(signIn: string): { key: string; uri: string; sealed: string } {
      const key = new Secret({ size: 20 }).base32;
      return { key, uri: totp(key, signIn).toString(), sealed: seal(key) };
    },
    /** Puts a prepared key in force. @returns the recovery codes, or null where the code is not the device's */
    async confirm(memberId: string, sealed: string, code: string, t: Transaction): Promise<string[] | null> {
      const key = unseal(sealed);
      const step = key === null ? null : stepOf(key, code);
      if (step === null) return null;
      // a code confirms once: of several at one moment the first gets the recovery codes, the others none that do not work
      if (
        !(await ask(
          'UPDATE members SET factor_key = :sealed, factor_step = :step WHERE id = :memberId AND NOT (factor_key <=> :sealed)',
          { sealed, step, memberId },
          t,
        ))
      )
        return null;
      const codes = Array.from({ length: RECOVERY_CODES }, () =>
        randomBytes(6)
          .toString('hex')
          .replace(/(....)(?=.)/g, '$1-'),
      );
      await ask('DELETE FROM recovery_codes WHERE member_id = :memberId', { memberId }, t);
      for (const c of codes)
        await store.db.query('INSERT INTO recovery_codes (member_id, code) VALUES (:memberId, :code)', {
          replacements: { memberId, code: hashed(memberId, c) },
          transaction: t,
        });
      return codes;
    },
    async drop(memberId: string, t: Transaction): Promise<void> {
      await ask('UPDATE members SET factor_key = NULL, factor_step = 0 WHERE id = :memberId', { memberId }, t);
      await ask('DELETE FROM recovery_codes WHERE member_id = :memberId', { memberId }, t);
    },
    /** Whether a code is right and not used before; it is used up by this. */
    async take(member: { id: string; factorKey: string }, code: string): Promise<'code' | 'recovery' | null> {
      const key = unseal(member.factorKey);
      const step = key === null ? null : stepOf(key, code);
      const { id } = member;
      if (step !== null)
        return (await ask('UPDATE members SET factor_step = :step WHERE id = :id AND factor_step < :step', {
          id,
          step,
        }))
          ? 'code'
          : null;
      return (await ask('DELETE FROM recovery_codes WHERE member_id = :id AND code = :code', {
        id,
        code: hashed(id, code),
      }))
        ? 'recovery'
        : null;
    },
  };
}
