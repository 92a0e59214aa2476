import type { ScaledTool } from '@jarro/core';
import { IsIn, IsNumber, Length, Max, Min } from 'class-validator';

const KINDS = ['clamp', 'transducer', 'probe'] as const;
/** From a transducer of thousands of bar to a clamp of microamperes. */
const LEAST = 1e-10;
const MOST = 1e6;

export class AddToolDto implements ScaledTool {
  @IsIn(KINDS)
  kind: ScaledTool['kind'];

  @Length(1, 60, { message: 'Give the clamp or transducer a name, as it is written on it.' })
  name: string;

  @IsNumber()
  @Min(LEAST, { message: 'State what it gives for an ampere or at full scale, a number above 0.' })
  @Max(MOST)
  voltsPerUnit: number;

  @IsNumber()
  @Min(-100)
  @Max(100)
  zeroV: number;
}
