import { useSyncExternalStore } from 'react';
import { panned, scaledAbout, viewOf, wheeled, wholeView, type Size, type View } from './view.js';

/** At this scale a single pixel is a square that one can look at. */
export const CLOSE = 6;

/**
 * Where one looks in a picture. It changes with every movement of a hand, so it lives outside of the components: only
 * what draws it listens.
 */
export class Stage {
  private view: View | null = null;
  private size: Size = { width: 0, height: 0 };
  private state: { readonly view: View; readonly size: Size; readonly whole: boolean };
  private readonly listeners = new Set<() => void>();

  constructor(readonly picture: Size) {
    this.state = { view: wholeView(picture, this.size), size: this.size, whole: true };
  }

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };
  get = (): Stage['state'] => this.state;

  resize(size: Size): void {
    this.size = size;
    this.set(this.view && scaledAbout(this.view, this.picture, size, this.view.scale));
  }
  whole(): void {
    this.set(null);
  }
  scaleTo(scale: number, sx?: number, sy?: number): void {
    this.set(scaledAbout(this.state.view, this.picture, this.size, scale, sx, sy));
  }
  /** One step of the keys, in or out. */
  step(times: number): void {
    this.scaleTo(this.state.view.scale * times);
  }
  wheel(turned: number, sx: number, sy: number): void {
    this.scaleTo(wheeled(this.state.view.scale, turned), sx, sy);
  }
  pan(dx: number, dy: number): void {
    this.set(panned(this.state.view, this.picture, this.size, dx, dy));
  }
  goTo(x: number, y: number, scale = CLOSE): void {
    this.set(viewOf(this.picture, this.size, x, y, scale));
  }

  private set(view: View | null): void {
    this.view = view;
    this.state = {
      view: view ?? wholeView(this.picture, this.size),
      size: this.size,
      whole: view === null,
    };
    this.listeners.forEach((l) => l());
  }
}

export const useStage = (stage: Stage): ReturnType<Stage['get']> =>
  useSyncExternalStore(stage.subscribe, stage.get);
