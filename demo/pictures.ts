/** Pictures of the demo, drawn as SVG. Each takes a few colours, so that a handful of drawings serves many records. */

const svg = (w: number, h: number, inner: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${w} ${h}">${inner}</svg>`;

/** A hive of stacked boxes in a meadow under a sky. */
export function hivePicture(body: string, roof: string, sky: string, field: string, boxes: number): string {
  const rows = Array.from({ length: boxes }, (_, i) => {
    const y = 150 - i * 34;
    return `<rect x="108" y="${y}" width="104" height="32" rx="3" fill="${body}"/><rect x="108" y="${y + 28}" width="104" height="4" fill="#000" opacity=".12"/><rect x="146" y="${y + 12}" width="28" height="5" rx="2.5" fill="#000" opacity=".25"/>`;
  }).join('');
  const top = 150 - (boxes - 1) * 34;
  return svg(
    320,
    220,
    `<rect width="320" height="220" fill="${sky}"/><circle cx="262" cy="52" r="24" fill="#FFF3C9"/><path d="M0 150c60-34 110-24 160-12s110 6 160-22v104H0Z" fill="${field}"/><path d="M0 176c80-20 150 0 320-14v58H0Z" fill="#000" opacity=".08"/>${rows}<path d="M100 ${top}h120l-8-13H108Z" fill="${roof}"/><rect x="100" y="182" width="120" height="6" fill="#6B4A2B"/><path d="M112 188v14M208 188v14" stroke="#6B4A2B" stroke-width="7"/><rect x="140" y="176" width="40" height="5" rx="2" fill="#2B1D10"/><g fill="#2B1D10"><ellipse cx="238" cy="138" rx="5" ry="3.4"/><ellipse cx="82" cy="118" rx="5" ry="3.4"/><ellipse cx="190" cy="70" rx="4.4" ry="3"/></g><g fill="#fff" opacity=".75"><ellipse cx="237" cy="133" rx="4" ry="2.4"/><ellipse cx="81" cy="113" rx="4" ry="2.4"/><ellipse cx="189" cy="66" rx="3.4" ry="2"/></g>`,
  );
}

/** A landscape for an apiary: hills, a row of hives, a tree. */
export function apiaryPicture(sky: string, hill: string, near: string, tree: string): string {
  const hives = [60, 104, 148, 192]
    .map(
      (x, i) =>
        `<rect x="${x}" y="${150 - (i % 2) * 6}" width="26" height="24" rx="2" fill="${['#E3B04B', '#C8441F', '#F1E3C4', '#6F8FA6'][i]}"/><path d="M${x - 3} ${150 - (i % 2) * 6}h32l-3-6h-26Z" fill="#5C4630"/>`,
    )
    .join('');
  return svg(
    320,
    180,
    `<rect width="320" height="180" fill="${sky}"/><path d="M0 108c70-50 130-34 190-14s90 2 130-16v102H0Z" fill="${hill}"/><path d="M0 142c90-26 190-16 320-4v42H0Z" fill="${near}"/><rect x="262" y="92" width="8" height="46" fill="#5C4630"/><circle cx="266" cy="78" r="30" fill="${tree}"/><circle cx="246" cy="92" r="18" fill="${tree}"/><circle cx="286" cy="94" r="18" fill="${tree}"/>${hives}`,
  );
}

/** A swarm hanging from a branch. */
export const swarmPicture = (): string =>
  svg(
    320,
    200,
    '<rect width="320" height="200" fill="#CFE0E3"/><path d="M-10 46c80 20 190 6 340-18" stroke="#6B4A2B" stroke-width="14" fill="none" stroke-linecap="round"/><path d="M120 52c-30 40-20 116 36 128 56-12 66-88 36-134-22 10-48 12-72 6Z" fill="#B9771E"/><path d="M128 70c-14 34-8 76 28 96" stroke="#8A5512" stroke-width="10" fill="none" opacity=".5"/><g fill="#3A250C"><circle cx="140" cy="90" r="4"/><circle cx="168" cy="110" r="4"/><circle cx="152" cy="138" r="4"/><circle cx="178" cy="82" r="4"/><circle cx="214" cy="120" r="3"/><circle cx="98" cy="112" r="3"/><circle cx="230" cy="90" r="3"/></g><path d="M40 40c10-18 26-22 42-16-8 16-24 22-42 16Z" fill="#5E8B4A"/>',
  );

/** A picture for a notice: jars, a calendar leaf or a smoker, in one hand. */
export function noticePicture(kind: 'jars' | 'day' | 'smoker'): string {
  const ground = { jars: '#F6E3B8', day: '#DDE9E2', smoker: '#EBD9D0' }[kind];
  const inner = {
    jars: '<g><rect x="70" y="64" width="58" height="78" rx="10" fill="#D98E1F"/><rect x="76" y="52" width="46" height="14" rx="4" fill="#7A5A33"/><rect x="136" y="80" width="50" height="62" rx="9" fill="#B9671A"/><rect x="141" y="69" width="40" height="13" rx="4" fill="#7A5A33"/><rect x="196" y="60" width="58" height="82" rx="10" fill="#EDB84C"/><rect x="202" y="48" width="46" height="14" rx="4" fill="#7A5A33"/></g>',
    day: '<rect x="108" y="36" width="104" height="108" rx="12" fill="#FFFDF8"/><path d="M108 66h104V48a12 12 0 0 0-12-12h-80a12 12 0 0 0-12 12Z" fill="#1B6A5E"/><g fill="#1F2E2A" opacity=".75"><circle cx="134" cy="88" r="6"/><circle cx="160" cy="88" r="6"/><circle cx="186" cy="88" r="6"/><circle cx="134" cy="114" r="6"/></g><circle cx="160" cy="114" r="11" fill="#C8441F"/>',
    smoker:
      '<rect x="128" y="70" width="56" height="76" rx="10" fill="#8C9499"/><path d="M128 70c4-24 30-34 66-42l6 14c-24 6-14 14-16 28Z" fill="#6E767B"/><path d="M184 82l44 10v44l-44 8Z" fill="#A3623A"/><path d="M206 24c14-8 8-18 22-22" stroke="#fff" stroke-width="6" fill="none" stroke-linecap="round" opacity=".8"/>',
  }[kind];
  return svg(
    320,
    170,
    `<rect width="320" height="170" fill="${ground}"/><path d="M0 142h320v28H0Z" fill="#000" opacity=".07"/>${inner}`,
  );
}

/** A plan, 4 to 3. */
const plan = (inner: string): string => svg(400, 300, `<g transform="scale(1 ${300 / 280})">${inner}</g>`);

/** The meadow from above, where the apiaries stand: fields, a stream, a lane, the barn. */
export const meadowPlan = (): string =>
  plan(
    '<rect width="400" height="280" fill="#EDF1E2"/><path d="M0 0h170v120H0Z" fill="#DCE6C8"/><path d="M230 150h170v130H230Z" fill="#E7E2C3"/><path d="M190 0h210v96H210Z" fill="#D3E0C4"/><path d="M-10 196c70-34 120 14 190-14s110-90 230-74" stroke="#A8C7CF" stroke-width="15" fill="none"/><path d="M118 290c10-80 70-120 84-300" stroke="#D9C9A3" stroke-width="11" fill="none"/><g fill="#8FA874"><circle cx="52" cy="64" r="15"/><circle cx="82" cy="48" r="11"/><circle cx="342" cy="46" r="16"/><circle cx="312" cy="66" r="10"/><circle cx="352" cy="236" r="14"/><circle cx="40" cy="246" r="12"/><circle cx="70" cy="258" r="9"/></g><g fill="#B07A56"><rect x="226" y="112" width="42" height="26" rx="3"/><rect x="272" y="118" width="20" height="20" rx="3"/></g><g stroke="#B9BE9C" stroke-width="2" fill="none" stroke-dasharray="5 5"><path d="M0 120h170V0M230 280V150h170M212 96h188"/></g>',
  );

/** The honey room from above: benches, shelves, the extractor, two doors. */
export const honeyRoomPlan = (): string =>
  plan(
    '<rect width="400" height="280" fill="#F7F1E4"/><rect x="14" y="14" width="372" height="252" rx="4" fill="#FFFDF8" stroke="#6B5B45" stroke-width="6"/><g fill="#EADFC8" stroke="#B8A683" stroke-width="2"><rect x="28" y="28" width="120" height="34" rx="3"/><rect x="28" y="78" width="34" height="120" rx="3"/><rect x="336" y="60" width="34" height="150" rx="3"/><rect x="170" y="214" width="140" height="36" rx="3"/></g><circle cx="206" cy="122" r="44" fill="#E3E8E6" stroke="#8C9A94" stroke-width="3"/><path d="M206 82v80M166 122h80" stroke="#8C9A94" stroke-width="2"/><path d="M40 266h58M262 14h62" stroke="#FFFDF8" stroke-width="8"/><path d="M40 266a58 58 0 0 1 58-58M262 14a62 62 0 0 0 62 62" stroke="#B8A683" stroke-width="1.5" fill="none"/>',
  );

/** A bee from above; the queen is longer and wears a mark of the year. */
export function beePicture(isQueen: boolean): string {
  const [length, mark] = isQueen
    ? [34, '<circle cx="32" cy="22" r="4.5" fill="#E9F0F7" stroke="#2D5BA8" stroke-width="2"/>']
    : [26, ''];
  const end = 26 + length;
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 64 64">
<g fill="#DCE9EC" stroke="#7F9AA3" stroke-width="1.5"><ellipse cx="19" cy="30" rx="13" ry="6" transform="rotate(24 19 30)"/><ellipse cx="45" cy="30" rx="13" ry="6" transform="rotate(-24 45 30)"/></g>
<ellipse cx="32" cy="${26 + length / 2}" rx="${isQueen ? 8 : 9}" ry="${length / 2}" fill="#E3A52B" stroke="#3B2A14" stroke-width="2"/>
<g stroke="#3B2A14" stroke-width="3.5">${[0.25, 0.5, 0.75].map((s) => `<line x1="24.5" x2="39.5" y1="${26 + length * s}" y2="${26 + length * s}"/>`).join('')}</g>
<circle cx="32" cy="22" r="8" fill="#8A5A1C" stroke="#3B2A14" stroke-width="2"/>${mark}
<circle cx="32" cy="12" r="5.5" fill="#3B2A14"/><path d="M29 8 25 3M35 8l4-5" stroke="#3B2A14" stroke-width="2" fill="none"/>
<path d="M32 ${end}v4" stroke="#3B2A14" stroke-width="2"/></svg>`;
}
