import { Module } from '@nestjs/common';
import { CasesModule } from '../cases/cases.module.js';
import { UploadsModule } from '../uploads/uploads.module.js';
import { PhotosController } from './photos.controller.js';
import { PhotosService } from './photos.service.js';

/** Pictures that hang on a case. */
@Module({
  imports: [CasesModule, UploadsModule],
  controllers: [PhotosController],
  providers: [PhotosService],
})
export class PhotosModule {}
