interface Detector {
  detect(source: ImageBitmap): Promise<{ rawValue: string }[]>;
}

/** Finds a code in a photo: any kind the browser knows, or a QR code where it knows none. */
export async function codeIn(photo: ImageBitmapSource): Promise<string | null> {
  const picture = await createImageBitmap(photo);
  const Native = (globalThis as { BarcodeDetector?: new () => Detector }).BarcodeDetector;
  if (Native) {
    const [found] = await new Native().detect(picture).catch(() => []);
    if (found) return found.rawValue;
  }
  const scale = Math.min(1, 1200 / Math.max(picture.width, picture.height));
  const canvas = document.createElement('canvas');
  canvas.width = Math.round(picture.width * scale);
  canvas.height = Math.round(picture.height * scale);
  const context = canvas.getContext('2d')!;
  context.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const { data, width, height } = context.getImageData(0, 0, canvas.width, canvas.height);
  const { default: jsQR } = await import('jsqr');
  return jsQR(data, width, height)?.data ?? null;
}
