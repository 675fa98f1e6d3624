/** What is to be bundled. */
export interface Bundling {
  /** The module that each program begins with, by the name of its built file. */
  readonly entries: Readonly<Record<string, string>>;
  /** The folder of the built files. */
  readonly dist: string;
  /** Files and folders that they are made of: where one is newer, all are built again. */
  readonly sources: readonly string[];
  /** Packages that are loaded from where they are installed. */
  readonly external?: readonly string[];
}

/** When a file, or the newest in a folder, was last changed, ms since 1970. */
export const newest: (path: string) => number;

/** Bundles programs into one built file each, where their sources are newer. */
export const bundled: (what: Bundling) => Promise<void>;
