import type { Sequelize } from 'sequelize';

/** What a run wrote of the wind is a speed, so that a reader sees it in their units. */
export async function up(db: Sequelize): Promise<void> {
  for (const code of ['run.shut-wind', 'run.closed-wind']) {
    const [before, after] = ['wind', 'windMS'].map((name) => `"code":"${code}","values":{"${name}":`);
    await db.query('UPDATE runs SET result = REPLACE(result, ?, ?) WHERE result LIKE ?', {
      replacements: [before, after, `%"${code}"%`],
    });
  }
}
