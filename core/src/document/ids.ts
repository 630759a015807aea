/** The words of the condition language, which are no ids (docs/flow-format.md, section 2). */
export const reservedWords = 'and or not true false min max left taken won wins it previous position'.split(' ');

export const idPattern = /^[a-z][a-z0-9_]{0,39}$/;
