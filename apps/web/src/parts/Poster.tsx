import type { Clip } from '@bevrin/contract';

/** A small picture of a clip, as far as there is one; it fills what is around it. */
export const Poster = ({ clip }: { clip: Pick<Clip, 'poster'> }) =>
  clip.poster ? (
    <img
      src={`/api/pictures/${clip.poster}`}
      alt=""
      loading="lazy"
      className="h-full w-full object-contain"
    />
  ) : null;
