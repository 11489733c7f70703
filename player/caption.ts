import type { DeviceAsk } from '../core/routines/asks.ts';

/** The longer side of the picture that is made, in pixels, at most and at least. */
const [MOST, LEAST] = [1600, 600];
/** The size of the words, as a share of the width; less where they would take more than a third of the height. */
const SIZE = 0.09;

/** A picture with words over its top and foot, drawn as one (PNG). Rejects in words when the picture cannot be read. */
export async function captioned({ top, foot }: Extract<DeviceAsk, { do: 'caption' }>, content: Blob): Promise<Blob> {
  const url = URL.createObjectURL(content);
  try {
    const picture = new Image();
    picture.src = url;
    await picture.decode().catch(() => {
      throw new Error('This file cannot be read as a picture.');
    });
    const [wide, high] = [picture.naturalWidth || LEAST, picture.naturalHeight || LEAST];
    const longer = Math.max(wide, high);
    const scale = Math.min(Math.max(LEAST, longer), MOST) / longer;
    const canvas = document.createElement('canvas');
    canvas.width = Math.round(wide * scale);
    canvas.height = Math.round(high * scale);
    const pen = canvas.getContext('2d')!;
    pen.drawImage(picture, 0, 0, canvas.width, canvas.height);
    write(pen, top, 'top');
    write(pen, foot, 'foot');
    const made = await new Promise<Blob | null>((resolve) => {
      canvas.toBlob(resolve, 'image/png');
    });
    if (!made) throw new Error('The picture could not be made.');
    return made;
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** Writes words across, broken where they are too wide, as small as they must be. */
function write(pen: CanvasRenderingContext2D, words: string, at: 'top' | 'foot'): void {
  const { width, height } = pen.canvas;
  if (!words) return;
  const family = getComputedStyle(document.querySelector('.k-app') ?? document.body).fontFamily;
  let size = width * SIZE;
  let lines: string[] = [];
  for (; size > 8; size *= 0.9) {
    pen.font = `700 ${size}px ${family}`;
    lines = broken(pen, words, width * 0.92);
    if (lines.length * size * 1.2 < height / 3) break;
  }
  pen.textAlign = 'center';
  pen.textBaseline = 'middle';
  pen.lineJoin = 'round';
  // Light words with a dark edge are read on any picture.
  pen.strokeStyle = 'rgb(0 0 0 / 85%)';
  pen.fillStyle = '#fff';
  pen.lineWidth = size / 6;
  lines.forEach((line, i) => {
    const down = at === 'top' ? i + 0.8 : i - lines.length + 0.4;
    const y = (at === 'top' ? 0 : height) + down * size * 1.2;
    pen.strokeText(line, width / 2, y, width * 0.96);
    pen.fillText(line, width / 2, y, width * 0.96);
  });
}

function broken(pen: CanvasRenderingContext2D, words: string, width: number): string[] {
  const lines: string[] = [];
  for (const part of words.split('\n')) {
    let line = '';
    for (const word of part.split(/\s+/)) {
      const longer = line ? `${line} ${word}` : word;
      if (line && pen.measureText(longer).width > width) {
        lines.push(line);
        line = word;
      } else line = longer;
    }
    lines.push(line);
  }
  return lines;
}
