import type { SettingSchema, Step } from '#document';

export type SettingSchemas = Readonly<Record<string, SettingSchema>>;

/** Settings that a treatment does not know, or that lie outside of what it allows. */
export class SettingUnusable extends Error {}

type Settings = Step['settings'];

/**
 * Settings as a treatment runs with them: those that were given, the rest as they are otherwise.
 * @throws {SettingUnusable} naming the setting and what it may be
 */
export const checkedSettings = (schemas: SettingSchemas, given: Settings): Settings => {
  for (const name of Object.keys(given))
    if (!(name in schemas))
      throw new SettingUnusable(
        `There is no setting ${name}: the settings are ${Object.keys(schemas).join(', ')}.`,
      );
  return Object.fromEntries(
    Object.entries(schemas).map(([name, schema]) => [name, checked(name, schema, given[name])]),
  );
};

const checked = (
  name: string,
  schema: SettingSchema,
  value: Settings[string] | undefined,
): Settings[string] => {
  if (value === undefined) return schema.kind === 'rows' ? [] : schema.otherwise;
  switch (schema.kind) {
    case 'number':
      if (typeof value !== 'number' || !(value >= schema.least && value <= schema.most))
        throw new SettingUnusable(
          `${name} is ${String(value)}: it must lie between ${schema.least} and ${schema.most}${schema.unit && ` ${schema.unit}`}.`,
        );
      return value;
    case 'choice':
      if (typeof value !== 'string' || !schema.options.includes(value))
        throw new SettingUnusable(
          `${name} is ${String(value)}: it must be one of ${schema.options.join(', ')}.`,
        );
      return value;
    case 'flag':
      if (typeof value !== 'boolean')
        throw new SettingUnusable(`${name} is ${String(value)}: it must be true or false.`);
      return value;
    case 'rows':
      if (!Array.isArray(value) || value.some((row) => row.length < schema.columns.length))
        throw new SettingUnusable(`${name}: each row must hold ${schema.columns.join(', ')}.`);
      return value;
  }
};

/** A setting that was checked to be a number. */
export const numberOf = (settings: Settings, name: string): number => settings[name] as number;
/** A setting that was checked to be rows of numbers. */
export const rowsOf = (settings: Settings, name: string): readonly number[][] => settings[name] as number[][];
