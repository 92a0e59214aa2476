import {
  createParamDecorator,
  ForbiddenException,
  Injectable,
  SetMetadata,
  UnauthorizedException,
  type CanActivate,
  type ExecutionContext,
} from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import type { Request } from 'express';
import { AuthService } from './auth.service.js';
import type { SignedIn } from './signed-in.js';
import { may, NEEDS, type Permission } from './permissions.js';

const OPEN = 'open';
export const COOKIE = 'jarro_session';

/** Marks a route that needs no sign-in; every other one does. */
export const Open = () => SetMetadata(OPEN, true);

type SignedInRequest = Request & { signedIn?: SignedIn };

export const Me = createParamDecorator((_: unknown, context: ExecutionContext): SignedIn => {
  const { signedIn } = context.switchToHttp().getRequest<SignedInRequest>();
  if (!signedIn) throw new UnauthorizedException('Sign in first.');
  return signedIn;
});

export function sessionToken(request: Request): string | undefined {
  const cookies = request.headers.cookie?.split(/;\s*/) ?? [];
  return cookies.find((cookie) => cookie.startsWith(`${COOKIE}=`))?.slice(COOKIE.length + 1);
}

@Injectable()
export class AuthGuard implements CanActivate {
  constructor(
    private readonly auth: AuthService,
    private readonly reflector: Reflector,
  ) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    if (this.reflector.getAllAndOverride<boolean>(OPEN, [context.getHandler(), context.getClass()])) return true;
    const request = context.switchToHttp().getRequest<SignedInRequest>();
    const token = sessionToken(request);
    const signedIn = token ? await this.auth.findSignedIn(token) : undefined;
    if (!signedIn) throw new UnauthorizedException('Sign in first.');
    request.signedIn = signedIn;
    const needs = this.reflector.getAllAndOverride<Permission | undefined>(NEEDS, [
      context.getHandler(),
      context.getClass(),
    ]);
    if (!needs || !may(signedIn.user.role, needs)) {
      throw new ForbiddenException(`Your role (${signedIn.user.role}) may not do this. Ask a lead.`);
    }
    return true;
  }
}
