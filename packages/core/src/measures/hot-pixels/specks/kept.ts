/** What was found in a frame. */
export interface InFrame<T> {
  readonly frame: number;
  readonly specks: readonly T[];
}

/**
 * Specks by their frames, no more of them than so many however long a clip is: once they are more, those of every second
 * frame that is looked at go, and later ones come from as few.
 */
export class KeptSpecks<T> {
  private every = 1;
  private kept: InFrame<T>[] = [];
  private count = 0;

  /** @param most specks that are kept at a time */
  constructor(private readonly most: number) {}

  add(frame: number, specks: readonly T[]): void {
    if (!this.has(frame)) return;
    this.kept.push({ frame, specks });
    this.count += specks.length;
    while (this.count > this.most && this.kept.length > 1) {
      this.every *= 2;
      this.kept = this.kept.filter((f) => this.has(f.frame));
      this.count = this.kept.reduce((sum, f) => sum + f.specks.length, 0);
    }
  }

  /** Whether specks of a frame are kept, if it had any. */
  has(frame: number): boolean {
    return frame % this.every === 0;
  }

  get frames(): readonly InFrame<T>[] {
    return this.kept;
  }
}
