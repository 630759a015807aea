import type { Who } from '$lib/server/accounts/may.ts';

declare global {
  namespace App {
    interface Error {
      message: string;
    }
    interface Locals {
      /** Who asks. */
      who: Who;
    }
  }
}

export {};
