import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What an hour's labour costs, for the cost of being wrong; and the names of those who worked on a case that came in as a bundle. */
export class Repairs1766000000000 implements MigrationInterface {
  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      "ALTER TABLE shops ADD labourRate DOUBLE NOT NULL DEFAULT 0, ADD currency VARCHAR(6) NOT NULL DEFAULT ''",
    );
    await runner.query('ALTER TABLE cases ADD people JSON NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE cases DROP people');
    await runner.query('ALTER TABLE shops DROP labourRate, DROP currency');
  }
}
