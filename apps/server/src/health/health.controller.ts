import { Controller, Get, ServiceUnavailableException } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { Open } from '../auth/auth.guard.js';

@ApiTags('health')
@Controller('health')
export class HealthController {
  constructor(@InjectDataSource() private readonly source: DataSource) {}

  @Open()
  @Get()
  async check(): Promise<{ status: 'up' }> {
    try {
      await this.source.query('SELECT 1');
    } catch {
      throw new ServiceUnavailableException('The database is not answering.');
    }
    return { status: 'up' };
  }
}
