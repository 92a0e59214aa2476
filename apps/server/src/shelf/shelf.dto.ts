import { IsBoolean, IsNumber, IsUUID, Length, Max, Min } from 'class-validator';
import { Maybe } from '../http/maybe.js';

export class AddKnownGoodDto {
  @IsUUID()
  captureId: string;

  @Length(3, 120, { message: 'Name it so that it is found again: vehicle, engine, and how it was taken.' })
  label: string;

  @Maybe()
  @IsNumber()
  @Min(-50, { message: 'A temperature lies between −50 and 150 °C.' })
  @Max(150, { message: 'A temperature lies between −50 and 150 °C.' })
  temperatureC?: number;
}

export class RetireKnownGoodDto {
  @IsBoolean()
  retired: boolean;
}
