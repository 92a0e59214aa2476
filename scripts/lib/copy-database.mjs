import { createConnection } from 'mysql2/promise';

/**
 * Fills an empty database with all of another one of the same server. The rows never leave the server, which takes a
 * tenth of the time that a dump's statements take.
 * @param {string} url of the empty one
 * @param {string} from name of the other, which nobody writes to meanwhile
 */
export async function copyDatabase(url, from) {
  const connection = await createConnection(url);
  try {
    // Tables come in any order; what they refer to is there when all are.
    await connection.query('SET FOREIGN_KEY_CHECKS = 0');
    const [tables] = await connection.query(
      'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = ?',
      [from],
    );
    for (const { name } of tables) {
      const [[shown]] = await connection.query('SHOW CREATE TABLE ??.??', [from, name]);
      await connection.query(shown['Create Table']);
      await connection.query('INSERT INTO ?? SELECT * FROM ??.??', [name, from, name]);
    }
  } finally {
    await connection.end();
  }
}
