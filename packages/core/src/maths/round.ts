/**
 * A figure to so many decimal places, as readings are stated.
 * @param digits after the point
 */
export const rounded = (value: number, digits: number): number => Number(value.toFixed(digits));
