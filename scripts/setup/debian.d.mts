/** A package that Bevrin takes from Debian. */
export type DebianPackage = 'ffmpeg' | 'postgresql' | 'chromium';

/** Folder of the newest PostgreSQL's programs, or `null`. */
export declare const postgresPrograms: () => string | null;

/**
 * Installs the Debian packages that are missing.
 * @returns why that could not be, with the command to run by hand; `null` where all of them are there
 */
export declare const installPackages: (wanted: readonly DebianPackage[]) => Promise<string | null>;
