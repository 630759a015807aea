import type { FlowDocument } from '@crow-lane/core/document/types';
import { laneSvg } from '@crow-lane/core/formats/lane-svg';
import { fileName, save } from './save.ts';

/** Saves the whole lane as a picture. Browsers draw at most some 16,000 pixels a side: a wider lane is made smaller. */
export async function savePicture(document: FlowDocument, as: 'svg' | 'png'): Promise<void> {
  const svg = laneSvg(document);
  const picture = as === 'svg' ? new Blob([svg], { type: 'image/svg+xml' }) : await pngOf(svg);
  save(picture, `${fileName(document.name)}.${as}`);
}

const mostPixels = 16_000;

export async function pngOf(svg: string): Promise<Blob> {
  const image = new Image();
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(svg)}`;
  await image.decode();
  const scale = Math.min(2, mostPixels / image.width, mostPixels / image.height);
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(image.width * scale);
  canvas.height = Math.round(image.height * scale);
  canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
  return await new Promise((done, fail) =>
    canvas.toBlob((blob) => (blob ? done(blob) : fail(new Error('The picture could not be drawn.'))), 'image/png')
  );
}
