import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { Resvg } from '@resvg/resvg-js';

/** Fonts that come along, so that words of pictures are drawn on machines that have none. */
const FONTS = join(dirname(createRequire(import.meta.url).resolve('dejavu-fonts-ttf/package.json')), 'ttf');
const FAMILY = 'DejaVu Sans';

/** A picture as PNG, so many pixels wide. */
export function pngOf(svg: string, width: number): Promise<Uint8Array> {
  const drawn = new Resvg(svg, {
    fitTo: { mode: 'width', value: width },
    background: 'white',
    font: {
      loadSystemFonts: false,
      fontFiles: [join(FONTS, 'DejaVuSans.ttf'), join(FONTS, 'DejaVuSans-Bold.ttf')],
      defaultFontFamily: FAMILY,
      sansSerifFamily: FAMILY,
    },
  });
  return Promise.resolve(drawn.render().asPng());
}
