import {
  isRole,
  InputError,
  KEY_STATES,
  MATH_KINDS,
  type ChannelSetup,
  type KeyState,
  type MathChannel,
  type MathKind,
} from '@jarro/core';
import { Transform, Type } from 'class-transformer';
import { IsBoolean, IsIn, IsInt, IsNumber, IsString, Length, Max, MaxLength, Min } from 'class-validator';
import { Maybe } from '../http/maybe.js';
import { JobId } from '../work/job-id.js';

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

  @JobId()
  job?: string;

  /** JSON: channel name to { role, factor, zero, invert }. */
  @Maybe()
  @IsString()
  @MaxLength(8000)
  setups?: string;

  @Maybe()
  @Type(() => Number)
  @IsInt()
  @Min(3)
  @Max(40)
  bars?: number;

  @Maybe()
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
      Object.entries(parsed).map(([name, setup]) => {
        if (typeof setup !== 'object' || setup === null) throw wrong();
        const { role, factor, zero, invert } = setup as Record<string, unknown>;
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

/** A stretch of one channel as it is drawn. */
export class StretchDto {
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

export class WindowDto extends StretchDto {
  @Type(() => Number)
  @IsInt()
  @Min(0)
  @Max(127)
  channel: number;
}

/** A channel worked out of one or two of the record's own, each by its place in it. */
export class MathDto implements MathChannel {
  @IsIn(MATH_KINDS)
  kind: MathKind;

  @IsInt()
  @Min(0)
  of: number;

  @Maybe()
  @IsInt()
  @Min(0)
  with?: number;

  @Maybe()
  @IsNumber()
  @Min(0, { message: 'A cut-off is a number of hertz.' })
  cutoffHz?: number;
}
