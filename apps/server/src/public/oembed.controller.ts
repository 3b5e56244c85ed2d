import { Controller, Get, Header, Headers, Inject, Query, Req, Res } from '@nestjs/common';
import type { Request, Response } from 'express';
import { embedCode, escaped } from '@heliphon/core/delivery/embed-code';
import { fitEmbed } from '@heliphon/core/delivery/embed-size';
import { POSTER_WIDTHS_PX } from '../files/posters.js';
import { publicUrlOf } from '../platform/public-url.js';
import { Needs } from '../platform/need.js';
import { CONFIG, type ServerConfig } from '../platform/config.js';
import { notFound, ProblemError, refusedField } from '../platform/problems.js';
import { PublicEventsService } from './public-events.service.js';

/** An oEmbed 1.0 answer of type `video`. */
interface OEmbed {
  readonly version: '1.0';
  readonly type: 'video';
  readonly title: string;
  readonly provider_name: string;
  readonly provider_url: string;
  readonly html: string;
  readonly width: number;
  readonly height: number;
  readonly cache_age: number;
  readonly thumbnail_url?: string;
  readonly thumbnail_width?: number;
  readonly thumbnail_height?: number;
}

/** Turns a bare link to a watch page into an embed, for websites that understand oEmbed (oembed.com). */
@Controller('oembed')
export class OEmbedController {
  constructor(
    private readonly events: PublicEventsService,
    @Inject(CONFIG) private readonly config: ServerConfig,
  ) {}

  @Get()
  @Needs('public')
  @Header('Access-Control-Allow-Origin', '*')
  @Header('Cache-Control', 'public, max-age=300')
  async answer(
    @Req() request: Request,
    @Res({ passthrough: true }) response: Response,
    @Headers('host') host: string,
    @Query('url') url?: string,
    @Query('maxwidth') maxWidth?: string,
    @Query('maxheight') maxHeight?: string,
    @Query('format') format = 'json',
  ): Promise<OEmbed | string> {
    if (format !== 'json' && format !== 'xml')
      throw new ProblemError(501, 'format-not-spoken', { format: 'json or xml' });
    if (!url) throw new ProblemError(400, 'query-needed', { query: 'url' });
    const publicUrl = publicUrlOf(this.config, request);
    const slug = slugOfLink(url, [publicUrl, `${request.protocol}://${host}`]);
    if (!slug) throw notFound('event');
    const event = await this.events.get(slug, host, null);
    const maxWidthPx = lengthOf('maxwidth', maxWidth);
    const maxHeightPx = lengthOf('maxheight', maxHeight);
    const size = fitEmbed(maxWidthPx, maxHeightPx);
    // By the address that was asked for: that of a series or a channel always shows the right one.
    const code = embedCode(publicUrl, slug, event.title, { isCountdown: false, extras: [], ...size });
    const answer: OEmbed = {
      version: '1.0',
      type: 'video',
      title: event.title,
      provider_name: event.house.name,
      provider_url: publicUrl,
      html: code.frame.replace(/height="\d+"/, `height="${size.heightPx}"`),
      width: size.widthPx,
      height: size.heightPx,
      cache_age: 300,
      ...(event.posterUrl ? thumbnailOf(publicUrl + event.posterUrl, maxWidthPx, maxHeightPx) : {}),
    };
    if (format === 'json') return answer;
    response.type('text/xml; charset=utf-8');
    return asXml(answer);
  }
}

/** oEmbed 1.0, 2.3.4.2. */
const asXml = (answer: OEmbed): string =>
  [
    '<?xml version="1.0" encoding="utf-8" standalone="yes"?>',
    '<oembed>',
    ...Object.entries(answer).map(([name, value]) => `  <${name}>${escaped(String(value))}</${name}>`),
    '</oembed>',
  ].join('\n');

/** The largest poster within the limits of the site that asks; none where the smallest is too large. */
function thumbnailOf(
  largestUrl: string,
  maxWidthPx: number | null,
  maxHeightPx: number | null,
): Pick<OEmbed, 'thumbnail_url' | 'thumbnail_width' | 'thumbnail_height'> {
  const heightOf = (widthPx: number): number => (widthPx * 9) / 16;
  const widthPx = POSTER_WIDTHS_PX.find(
    (width) => width <= (maxWidthPx ?? Infinity) && heightOf(width) <= (maxHeightPx ?? Infinity),
  );
  if (!widthPx) return {};
  return {
    thumbnail_url: largestUrl.replace(/\d+(?=\.jpg$)/, String(widthPx)),
    thumbnail_width: widthPx,
    thumbnail_height: heightOf(widthPx),
  };
}

/** The address that a link means, when it leads to this installation. */
function slugOfLink(link: string, origins: readonly string[]): string | null {
  if (!URL.canParse(link)) return null;
  const { origin, pathname } = new URL(link);
  if (!origins.some((known) => new URL(known).origin === origin)) return null;
  return /^\/(?:watch|embed|channel)\/([a-z0-9-]{1,100})\/?$/.exec(pathname)?.[1] ?? null;
}

function lengthOf(name: string, text: string | undefined): number | null {
  if (text === undefined) return null;
  const length = Number(text);
  if (!Number.isInteger(length) || length < 1) throw refusedField(name, 'not-a-count');
  return length;
}
