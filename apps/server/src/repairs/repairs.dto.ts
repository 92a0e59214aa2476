import { IsDefined, IsObject, Length } from 'class-validator';

/** A particular of the repair, a part that was fitted, or that all of it is done; the core checks it against the plan. */
export class RepairDto {
  @Length(1, 60)
  at: string;

  @IsDefined()
  @IsObject({ message: 'Say what was done.' })
  value: object;
}

export class LeftInDto {
  @Length(1, 60)
  at: string;

  @Length(3, 300, { message: 'Say what was left in, and where.' })
  what: string;
}

export class TakenOutDto {
  /** The loose end. */
  @Length(1, 60)
  at: string;

  @Length(3, 300, { message: 'Say how it was put right.' })
  how: string;
}

export class ReopenDto {
  @Length(10, 500, { message: 'Say in a sentence why the case is opened again, and what was learned.' })
  reason: string;
}
