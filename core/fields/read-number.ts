const PLAIN_WHOLE = /^-?\d{1,15}$/;

/** Reads a number as people write it, with thousands marks, a decimal comma, a currency sign or a unit behind it. */
export function readNumberText(text: string, decimal: '.' | ',' = '.'): number | null {
  // What most numbers of a sheet are; the rest takes many times as long.
  if (PLAIN_WHOLE.test(text)) return Number(text);
  let t = text
    .trim()
    .replace(/[\u00a0\u202f\s']/g, '')
    .replace(/^(-?)[€$£¥]/, '$1')
    .replace(/[€$£¥%]$/, '');
  if (/^\(.*\)$/.test(t)) t = `-${t.slice(1, -1)}`;
  const group = decimal === '.' ? ',' : '.';
  const whole = group === ',' ? /^[+-]?\d{1,3}(,\d{3})+(\.\d+)?$/ : /^[+-]?\d{1,3}(\.\d{3})+(,\d+)?$/;
  if (whole.test(t)) t = t.split(group).join('');
  if (decimal === ',') t = t.replace(',', '.');
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(t) && Number.isFinite(Number(t)) ? Number(t) : null;
}

const PLAIN_DECIMAL = /^-?\d{1,15}\.\d{1,15}$/;

/** Reads a number that may have its unit beside it; null when it has another currency, or is none. */
export function readMeasure(text: string, decimal: '.' | ',', unit: string | undefined): number | null {
  if (unit === undefined || PLAIN_WHOLE.test(text)) return readNumberText(text, decimal);
  if (decimal === '.' && PLAIN_DECIMAL.test(text)) return Number(text);
  const bare = text.replace(unit, '');
  return /[€$£¥]/.test(bare) ? null : readNumberText(bare, decimal);
}
