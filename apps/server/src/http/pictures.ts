import { Router } from 'express';
import type { PictureStore } from '../clips/picture-store.js';
import { Problem } from './problem.js';

/** What is named by its content never changes under its name. */
export const FOREVER = 'private, max-age=31536000, immutable';

/** Posters and playing copies, by their content. */
export const pictureRoutes = (pictures: PictureStore): Router =>
  Router().get('/pictures/:name', (request, response) => {
    const { name } = request.params;
    if (!pictures.isName(name) || !pictures.has(name))
      throw new Problem(404, 'There is no such picture. It may belong to a clip that was removed.');
    response.sendFile(pictures.pathOf(name), { headers: { 'cache-control': FOREVER } });
  });
