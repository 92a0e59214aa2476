import { Module } from '@nestjs/common';
import { Uploads } from './uploads.js';

/** Files while they come in. */
@Module({
  providers: [Uploads],
  exports: [Uploads],
})
export class UploadsModule {}
