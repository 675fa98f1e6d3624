import type { Clip } from '@bevrin/contract';

/** A small picture of a clip, as far as there is one; it fills what is around it. */
export const Poster = ({ clip }: { clip: Pick<Clip, 'id' | 'hasPoster'> }) =>
  clip.hasPoster ? (
    <img
      src={`/api/clips/${clip.id}/poster.jpg`}
      alt=""
      loading="lazy"
      className="h-full w-full object-contain"
    />
  ) : null;
