// Of every platform we run on, but in no library that TypeScript has for all of them alike.
declare function structuredClone<T>(value: T): T;
