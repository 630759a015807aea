import { v4 } from 'uuid';

/** A fresh id. Unlike `crypto.randomUUID` it can also be made where a page is not served over TLS or from loopback. */
export const freshId = (): string => v4();
