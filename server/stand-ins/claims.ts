import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { raw, Router } from 'express';
import { z } from 'zod';
import type { KeptJson } from './kept-json.ts';
import { fieldErrors } from './members.ts';
import { problem } from './problem.ts';

export const Claim = z.object({
  id: z.string(),
  good: z.string(),
  words: z.string(),
  photo: z.string(),
  /** The media type of the photo, and its name. */
  type: z.string(),
  name: z.string(),
  made: z.string(),
});
export type Claim = z.infer<typeof Claim>;

const Wanted = z.object({
  good: z.string().regex(/^G-\d{4}$/, 'A good has a number such as G-0042.'),
  words: z.string().trim().min(1, 'Say what is wrong.').max(500),
});
const MOST_BYTES = 10_000_000;

/** Claims about broken goods, each with a photo: they come in parts (RFC 7578), and the photo goes out as it came. */
export function claimRoutes(claims: KeptJson<Claim>, folder: string, url: () => string): Router {
  const routes = Router();
  const photos = join(folder, 'claims');
  const shown = ({ type: _type, name: _name, ...claim }: Claim): object => claim;
  routes.get('/claims', (_req, res) => void res.json({ items: claims.list.map(shown) }));
  routes.post('/claims', raw({ type: 'multipart/form-data', limit: MOST_BYTES }), async (req, res) => {
    let form: FormData;
    try {
      const headers = { 'content-type': req.get('content-type') ?? '' };
      form = await new Response(req.body as BodyInit, { headers }).formData();
    } catch {
      return void res.status(400).json(problem(400, 'Send the claim in parts (multipart/form-data).'));
    }
    const asked = Wanted.safeParse({ good: form.get('good'), words: form.get('words') });
    const photo = form.get('photo');
    const errors = [
      ...(asked.success ? [] : fieldErrors(asked.error)),
      ...(photo instanceof File && photo.size > 0 ? [] : [{ pointer: '#/photo', detail: 'Send a photo of it.' }]),
    ];
    if (!asked.success || !(photo instanceof File) || errors.length > 0)
      return void res.status(422).json(problem(422, 'Some fields are not right.', { errors }));
    const id = String(claims.list.length + 1);
    await mkdir(photos, { recursive: true });
    await writeFile(join(photos, id), new Uint8Array(await photo.arrayBuffer()));
    const claim: Claim = {
      id,
      ...asked.data,
      photo: `${url()}/claims/${id}/photo`,
      type: photo.type || 'application/octet-stream',
      name: photo.name,
      made: new Date().toISOString(),
    };
    claims.list.push(claim);
    await claims.save();
    return void res.status(201).json(shown(claim));
  });
  routes.get('/claims/:id/photo', async (req, res) => {
    const claim = claims.list.find((c) => c.id === req.params.id);
    if (!claim) return void res.status(404).json(problem(404, 'There is no such claim.'));
    res.set('content-disposition', `inline; filename*=UTF-8''${encodeURIComponent(claim.name)}`);
    return void res.type(claim.type).send(await readFile(join(photos, claim.id)));
  });
  return routes;
}
