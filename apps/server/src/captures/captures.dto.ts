import { isRole, InputError, KEY_STATES, type ChannelSetup, type KeyState } from '@jarro/core';
import { Transform, Type } from 'class-transformer';
import {
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsOptional,
  IsString,
  Length,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';

/** Travels in the query, since the body is the file itself. */
export class AddCaptureDto {
  @Length(1, 200)
  fileName: string;

  @Length(1, 120)
  label: string;

  @IsIn(KEY_STATES, { message: 'State the key position: a capture means nothing without it.' })
  keyState: KeyState;

  @Transform(({ value }) => (value === 'true' ? true : value === 'false' ? false : (value as unknown)))
  @IsBoolean({ message: 'Say whether the fault showed while it was captured.' })
  faultPresent: boolean;

  /** Chosen by whoever uploads, to ask for the progress with. */
  @IsOptional()
  @Matches(/^[\w-]{16,36}$/)
  job?: string;

  /** JSON: channel name to { role, factor, zero, invert }. */
  @IsOptional()
  @IsString()
  @MaxLength(8000)
  setups?: string;

  @IsOptional()
  @Type(() => Number)
  @IsInt()
  @Min(3)
  @Max(40)
  bars?: number;

  @IsOptional()
  @Type(() => Number)
  @IsNumber()
  @Min(1)
  @Max(1e9)
  rateHz?: number;

  /** @throws InputError when the setups are not what they should be */
  channelSetups(): Record<string, Partial<ChannelSetup>> {
    if (!this.setups) return {};
    const wrong = () => new InputError('The channel set-up could not be read. Choose the channels again.');
    let parsed: unknown;
    try {
      parsed = JSON.parse(this.setups);
    } catch {
      throw wrong();
    }
    if (typeof parsed !== 'object' || parsed === null) throw wrong();
    return Object.fromEntries(
      Object.entries(parsed as Record<string, Record<string, unknown>>).map(([name, setup]) => {
        const { role, factor, zero, invert } = setup;
        if (typeof role !== 'string' || !isRole(role)) throw wrong();
        return [
          name,
          {
            role,
            ...(typeof factor === 'number' && { factor }),
            ...(typeof zero === 'number' && { zero }),
            ...(invert === true && { invert }),
          },
        ];
      }),
    );
  }
}

export class WindowDto {
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(127)
  channel: number;

  @Type(() => Number)
  @IsNumber()
  from: number;

  @Type(() => Number)
  @IsNumber()
  to: number;

  @Type(() => Number)
  @IsInt()
  @Min(1)
  @Max(8192)
  columns: number;
}
