import { Controller, Get, ServiceUnavailableException } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { Open } from '../auth/auth.guard.js';

/** Whoever watches a server takes a late answer for none. */
const LIMIT_MS = 800;

@ApiTags('health')
@Controller('health')
export class HealthController {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  @Open()
  @Get()
  async check(): Promise<{ status: 'up' }> {
    let limit: NodeJS.Timeout | undefined;
    const late = new Promise<boolean>((resolve) => {
      limit = setTimeout(() => resolve(false), LIMIT_MS);
    });
    const answered = this.source.query('SELECT 1').then(
      () => true,
      () => false,
    );
    const up = await Promise.race([answered, late]);
    clearTimeout(limit);
    if (!up) throw new ServiceUnavailableException('The database is not answering.');
    return { status: 'up' };
  }
}
