import type { ToolItem } from '@jarro/api-types';
import { ConflictException, Injectable, NotFoundException } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { DataSource } from 'typeorm';
import { AuditService } from '../audit/audit.service.js';
import type { SignedIn } from '../auth/signed-in.js';
import { codeOf } from '../database/retry.js';
import type { AddToolDto } from './tools.dto.js';
import { Tool } from './tools.entities.js';

/** The shop's clamps and transducers, the last used first. */
@Injectable()
export class ToolsService {
  constructor(
    @InjectDataSource() private readonly source: DataSource,
    private readonly audit: AuditService,
  ) {}

  async list({ shop }: SignedIn): Promise<ToolItem[]> {
    const tools = await this.source.getRepository(Tool).find({ where: { shopId: shop.id }, order: { usedAt: 'DESC' } });
    return tools.map(({ id, kind, name, voltsPerUnit, zeroV }) => ({ id, kind, name, voltsPerUnit, zeroV }));
  }

  /** @throws ConflictException for a name that the shop has already */
  async add(me: SignedIn, { kind, name, voltsPerUnit, zeroV }: AddToolDto): Promise<{ id: string }> {
    try {
      const tool = { shopId: me.shop.id, kind, name: name.trim(), voltsPerUnit, zeroV };
      const { id } = await this.source.getRepository(Tool).save(tool);
      await this.audit.note(me, 'tool.add', tool.name);
      return { id };
    } catch (error) {
      if (codeOf(error) !== 'ER_DUP_ENTRY') throw error;
      throw new ConflictException(`There is a ${kind} of that name already. Choose it, or give this one another name.`);
    }
  }

  /** What was captured with it keeps its scale. */
  async remove(me: SignedIn, id: string): Promise<void> {
    const tools = this.source.getRepository(Tool);
    const tool = await tools.findOneBy({ id, shopId: me.shop.id });
    if (!tool) throw new NotFoundException('There is no such tool in this shop.');
    await tools.delete({ id });
    await this.audit.note(me, 'tool.remove', tool.name);
  }

  async used({ shop }: SignedIn, id: string): Promise<void> {
    await this.source.getRepository(Tool).update({ id, shopId: shop.id }, { usedAt: new Date() });
  }
}
