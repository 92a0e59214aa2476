import type { ResultSetHeader, RowDataPacket } from 'mysql2';
import type { Pool } from 'mysql2';
import type { DataSource } from 'typeorm';

type Value = string | number | null | Buffer;

/**
 * Runs one statement by the binary protocol: the text protocol writes a blob as hexadecimal digits, twice its size, and
 * parses it again (stack: 30 against 250 MiB/s). Outside of any transaction.
 */
export function runPrepared<T extends ResultSetHeader | RowDataPacket[]>(
  source: DataSource,
  statement: string,
  values: readonly Value[],
): Promise<T> {
  const { pool } = source.driver as unknown as { readonly pool: Pool };
  return new Promise((resolve, reject) => {
    pool.execute<T>(statement, [...values], (error, result) => (error ? reject(error) : resolve(result)));
  });
}
