import { randomInt, timingSafeEqual } from 'node:crypto';
import { DEFAULT_HOUSE_RULES } from '@jarro/core';
import {
  Body,
  ConflictException,
  Controller,
  ForbiddenException,
  Get,
  HttpCode,
  Injectable,
  Post,
  Req,
} from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { InjectDataSource } from '@nestjs/typeorm';
import type { Request } from 'express';
import { DataSource } from 'typeorm';
import { Attempts } from '../auth/attempts.js';
import { Open } from '../auth/auth.guard.js';
import { Setting } from '../database/settings.entities.js';
import { Shop } from './people.entities.js';
import { SetUpDto } from './people.dto.js';
import { addUser } from './people.service.js';

const CODE = 'set-up-code';
/** No letters or digits that are read for one another. */
const ALPHABET = 'ABCDEFGHJKLMNPQRSTUVWXYZ23456789';

/** The very first start: whoever can read the place where Jarro was started becomes the owner. */
@Injectable()
export class SetUpService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly attempts: Attempts,
  ) {}

  async isNeeded(): Promise<boolean> {
    return !(await this.source.getRepository(Shop).existsBy({}));
  }

  /** The one-time code; kept in the database, so that several servers on it know the same one. */
  async code(): Promise<string> {
    const settings = this.source.getRepository(Setting);
    const fresh = Array.from({ length: 12 }, () => ALPHABET[randomInt(ALPHABET.length)])
      .join('')
      .replace(/(.{4})(?!$)/g, '$1-');
    await this.source.query('INSERT IGNORE INTO settings (name, value) VALUES (?, ?)', [CODE, fresh]);
    return (await settings.findOneByOrFail({ name: CODE })).value;
  }

  /** Makes the shop and its owner, once. The code is spent with it. */
  async setUp({ code, shop, town, name, email, password }: SetUpDto, address: string | undefined): Promise<void> {
    await this.attempts.take('set-up', address);
    await this.source.transaction(async (manager) => {
      const [row] = await manager.query<{ value: string }[]>('SELECT value FROM settings WHERE name = ? FOR UPDATE', [
        CODE,
      ]);
      if (!row || (await manager.getRepository(Shop).existsBy({}))) {
        throw new ConflictException('This Jarro has its owner already. Sign in.');
      }
      if (!timingSafeEqual(Buffer.from(row.value), Buffer.from(code))) {
        throw new ForbiddenException('That is not the code shown where Jarro was started.');
      }
      const { id } = await manager.getRepository(Shop).save({ name: shop, town, rules: DEFAULT_HOUSE_RULES });
      await addUser(manager, id, { name, email, role: 'lead', password });
      await manager.query('DELETE FROM settings WHERE name = ?', [CODE]);
    });
  }
}

@ApiTags('set-up')
@Open()
@Controller('set-up')
export class SetUpController {
  constructor(private readonly setUp: SetUpService) {}

  @Get()
  async needed(): Promise<{ needed: boolean }> {
    return { needed: await this.setUp.isNeeded() };
  }

  @Post()
  @HttpCode(204)
  make(@Body() dto: SetUpDto, @Req() request: Request): Promise<void> {
    return this.setUp.setUp(dto, request.ip);
  }
}
