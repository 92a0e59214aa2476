import { IsBoolean, IsDefined, IsInt, Min } from 'class-validator';

export class AddSystemDto {
  /** A `jarro.system/1`; the core checks it field by field. */
  @IsDefined({ message: 'Give the system.' })
  profile: unknown;
}

export class ChangeSystemDto extends AddSystemDto {
  /** The version that was edited. */
  @IsInt()
  @Min(1)
  basis: number;
}

export class RetireSystemDto {
  @IsBoolean()
  retired: boolean;
}
