import { ValidateIf } from 'class-validator';

/** A field that may be absent; unlike with IsOptional, null is a value and has to pass. */
export const Maybe = () => ValidateIf((_object, value) => value !== undefined);
