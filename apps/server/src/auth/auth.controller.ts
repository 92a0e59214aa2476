import { Body, Controller, Delete, Get, HttpCode, Inject, Post, Put, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { IsEmail, IsIn, IsString, IsUUID, Length, Matches, MaxLength } from 'class-validator';
import type { Request, Response } from 'express';
import { CONFIG, PHOTO_LIMIT_BYTES, type Config } from '../config.js';
import type { Colleague, Me as WhoIsSignedIn, PressureUnitName } from '@jarro/api-types';
import { PRESSURE_UNITS } from '../people/people.dto.js';
import { rulesOf } from '../people/shop-rules.js';
import { AuditService } from '../audit/audit.service.js';
import { COOKIE, Me, Open, sessionToken } from './auth.guard.js';
import { AuthService, SESSION_HOURS } from './auth.service.js';
import type { SignedIn } from './signed-in.js';
import { Needs } from './permissions.js';
import { Maybe } from '../http/maybe.js';

export class SignInDto {
  @IsEmail({ require_tld: false }, { message: 'Give the e-mail address you sign in with.' })
  @MaxLength(190)
  email: string;

  @IsString()
  @MaxLength(200)
  password: string;
}

export class ChangePasswordDto {
  @IsString()
  @MaxLength(200)
  present: string;

  @Length(10, 200, { message: 'A password has at least ten characters; four unrelated words do well.' })
  next: string;
}

export class PinDto {
  @IsString()
  @MaxLength(200)
  password: string;

  /** Absent: no code any more. */
  @Maybe()
  @Matches(/^\d{4}$/, { message: 'A code has four digits.' })
  pin?: string;
}

export class HandOverDto {
  @IsUUID()
  to: string;

  @Matches(/^\d{4}$/, { message: 'A code has four digits.' })
  pin: string;
}

export class UnitDto {
  /** Absent: as the shop has it. */
  @Maybe()
  @IsIn(PRESSURE_UNITS)
  pressureUnit?: PressureUnitName;
}

@ApiTags('session')
@Controller('session')
export class AuthController {
  constructor(
    private readonly auth: AuthService,
    private readonly audit: AuditService,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  @Open()
  @Post()
  @HttpCode(204)
  async signIn(
    @Body() { email, password }: SignInDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    const token = await this.auth.signIn(email, password, request.ip);
    this.giveCookie(request, response, token, SESSION_HOURS * 3600 * 1000);
  }

  private giveCookie(request: Request, response: Response, token: string, maxAge: number): void {
    response.cookie(COOKIE, token, {
      httpOnly: true,
      sameSite: 'strict',
      path: '/',
      maxAge,
      secure: request.secure || this.config.origin?.protocol === 'https:',
    });
  }

  @Open()
  @Delete()
  @HttpCode(204)
  async signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<void> {
    const token = sessionToken(request);
    if (token) await this.auth.signOut(token, request.ip);
    response.clearCookie(COOKIE, { path: '/' });
  }

  @Needs('read')
  @Get()
  who(@Me() { user, shop }: SignedIn): WhoIsSignedIn {
    const { name, town, pressureUnit, labourRate, currency, version } = shop;
    return {
      user: {
        ...{ id: user.id, name: user.name, email: user.email, role: user.role },
        pressureUnit: user.pressureUnit,
        hasCode: user.pinHash !== null,
      },
      shop: { name, town, rules: rulesOf(shop), pressureUnit, labourRate, currency, version },
      uploadLimitBytes: this.config.uploadLimitBytes,
      photoLimitBytes: PHOTO_LIMIT_BYTES,
    };
  }

  @Needs('read')
  @Post('password')
  @HttpCode(204)
  async changePassword(@Me() { user, shop }: SignedIn, @Body() dto: ChangePasswordDto, @Req() request: Request) {
    await this.auth.changePassword(user, dto, sessionToken(request), request.ip);
    await this.audit.note({ user, shop }, 'password.change', user.email);
  }

  /** The short code that changes the person at a shared tablet. */
  @Needs('read')
  @Put('pin')
  @HttpCode(204)
  async setPin(@Me() me: SignedIn, @Body() { password, pin }: PinDto, @Req() request: Request): Promise<void> {
    await this.auth.setPin(me.user, pin ?? null, password, request.ip);
    await this.audit.note(me, pin === undefined ? 'code.remove' : 'code.set', me.user.email);
  }

  @Needs('read')
  @Get('colleagues')
  colleagues(@Me() me: SignedIn): Promise<Colleague[]> {
    return this.auth.colleagues(me);
  }

  @Needs('read')
  @Post('person')
  @HttpCode(204)
  async handOver(
    @Me() me: SignedIn,
    @Body() { to, pin }: HandOverDto,
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
  ): Promise<void> {
    const { token, expiresAt } = await this.auth.handOver(me, sessionToken(request) ?? '', to, pin);
    this.giveCookie(request, response, token, expiresAt.getTime() - Date.now());
  }

  @Needs('read')
  @Post('units')
  @HttpCode(204)
  async chooseUnit(@Me() { user }: SignedIn, @Body() { pressureUnit }: UnitDto) {
    await this.auth.chooseUnit(user.id, pressureUnit ?? null);
  }
}
