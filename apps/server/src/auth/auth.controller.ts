import { Body, Controller, Delete, Get, HttpCode, Inject, Post, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import { IsEmail, IsString, MaxLength } from 'class-validator';
import type { Request, Response } from 'express';
import { CONFIG, type Config } from '../config.js';
import { COOKIE, Me, Open, sessionToken } from './auth.guard.js';
import { AuthService, SESSION_HOURS, type SignedIn } from './auth.service.js';

export class SignInDto {
  @IsEmail({ require_tld: false }, { message: 'Give the e-mail address you sign in with.' })
  @MaxLength(190)
  email: string;

  @IsString()
  @MaxLength(200)
  password: string;
}

@ApiTags('session')
@Controller('session')
export class AuthController {
  constructor(
    private readonly auth: AuthService,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  @Open()
  @Post()
  @HttpCode(204)
  async signIn(@Body() { email, password }: SignInDto, @Res({ passthrough: true }) response: Response): Promise<void> {
    const token = await this.auth.signIn(email, password);
    const maxAge = SESSION_HOURS * 3600 * 1000;
    response.cookie(COOKIE, token, {
      httpOnly: true,
      sameSite: 'strict',
      path: '/',
      maxAge,
      secure: response.req.secure,
    });
  }

  @Delete()
  @HttpCode(204)
  async signOut(@Req() request: Request, @Res({ passthrough: true }) response: Response): Promise<void> {
    const token = sessionToken(request);
    if (token) await this.auth.signOut(token);
    response.clearCookie(COOKIE, { path: '/' });
  }

  @Get()
  who(@Me() { user, shop }: SignedIn) {
    return {
      user: { id: user.id, name: user.name, role: user.role },
      shop: { name: shop.name, town: shop.town, supplyDropV: shop.supplyDropV, groundDropV: shop.groundDropV },
      uploadLimitBytes: this.config.uploadLimitBytes,
    };
  }
}
