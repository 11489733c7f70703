import type { App } from '../../core/app/schema.ts';

/** Draws the app's icon as PNG, with its letters or picture inside the safe zone of a maskable icon. */
export async function drawIcon(look: App['look'], size: number): Promise<string> {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = size;
  const c = canvas.getContext('2d')!;
  c.fillStyle = look.icon.colour;
  c.fillRect(0, 0, size, size);
  if (look.icon.picture) {
    const img = new Image();
    img.src = look.icon.picture;
    await img.decode();
    const scale = Math.max(size / img.width, size / img.height);
    c.drawImage(
      img,
      (size - img.width * scale) / 2,
      (size - img.height * scale) / 2,
      img.width * scale,
      img.height * scale,
    );
  } else {
    await document.fonts.load(`650 ${size / 2}px "Bricolage Grotesque Variable"`).catch(() => undefined);
    c.fillStyle = '#FFFFFF';
    c.font = `650 ${size * 0.36}px "Bricolage Grotesque Variable", sans-serif`;
    c.textAlign = 'center';
    c.textBaseline = 'middle';
    c.fillText(look.icon.letters, size / 2, size * 0.52);
  }
  return canvas.toDataURL('image/png').split(',')[1]!;
}

/** A chosen picture, cut to a square of 256 pixels. */
export async function squarePicture(file: File): Promise<string> {
  const picture = await createImageBitmap(file);
  const side = Math.min(picture.width, picture.height);
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 256;
  canvas
    .getContext('2d')!
    .drawImage(picture, (picture.width - side) / 2, (picture.height - side) / 2, side, side, 0, 0, 256, 256);
  return canvas.toDataURL('image/jpeg', 0.85);
}
