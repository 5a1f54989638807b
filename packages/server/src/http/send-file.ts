import type { Response } from 'express';

/** Sends a stored file with range requests. Its name on disk is its hash, so its type and name are given. */
export function sendFile(response: Response, file: { path: string; mediaType: string; name: string }): Promise<void> {
  response.attachment(file.name);
  response.type(file.mediaType);
  // files by content never change under their address
  response.set('Cache-Control', 'private, max-age=3600');
  return new Promise((resolve, reject) => {
    response.sendFile(file.path, { dotfiles: 'allow', cacheControl: false, lastModified: false }, (error) => {
      const goneAway = (error as { code?: string } | undefined)?.code === 'ECONNABORTED' || response.destroyed;
      if (error && !goneAway) reject(error);
      else resolve();
    });
  });
}
