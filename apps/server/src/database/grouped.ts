/** Rows by what they belong to, in their order. @returns the rows of one key; none where there are none */
export const groupedBy = <Row>(
  rows: readonly Row[],
  keyOf: (row: Row) => string,
): ((key: string) => readonly Row[]) => {
  const groups = new Map<string, Row[]>();
  for (const row of rows) {
    const group = groups.get(keyOf(row));
    if (group) group.push(row);
    else groups.set(keyOf(row), [row]);
  }
  return (key) => groups.get(key) ?? [];
};
