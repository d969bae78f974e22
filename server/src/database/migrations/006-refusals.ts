import type { Sequelize } from 'sequelize';

/** How frames kept before this were worded, by what they were refused for. */
const WORDED: [code: string, like: string][] = [
  ['wide', 'stars % times as wide as they should be'],
  ['cloud', 'cloud: few stars, bright sky'],
  ['few', 'few stars'],
  ['long', 'long stars (eccentricity %)'],
  ['bright', 'bright sky: cloud'],
  ['by-hand', 'refused by hand'],
];

/** Frames carry a code for why they do not count; what was worded so far is given its code once, here. */
export async function up(db: Sequelize): Promise<void> {
  await db.query('ALTER TABLE frames ADD COLUMN IF NOT EXISTS refusal VARCHAR(20) CHARACTER SET ascii NULL');
  for (const [code, like] of WORDED)
    await db.query('UPDATE frames SET refusal = :code WHERE accepted = 0 AND refusal IS NULL AND reason LIKE :like', {
      replacements: { code, like },
    });
}
