import { applyDecorators } from '@nestjs/common';
import { Matches } from 'class-validator';
import { Maybe } from '../http/maybe.js';

/** A job's name, chosen by whoever begins it, to ask for its progress with and to stop it; the server chooses one where it is absent. */
export const JobId = () => applyDecorators(Maybe(), Matches(/^[\w-]{16,36}$/));
