/** Ids as spreadsheets spoil them. */

export const withoutZeros = (sourcedId: string): string => sourcedId.replace(/^0+(?=\d)/, "");

/** Whether an id is another without the zeros that it begins with, as a spreadsheet writes it that takes ids for numbers. */
export const lostZeros = (short: string, whole: string): boolean => short !== whole && short === withoutZeros(whole);
