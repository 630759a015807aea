/** What is said, in the same words on every page and in every answer, when something that is needed is not there. */
export const trouble = {
  /** The server answers, its database does not. */
  database: 'The database does not answer. It is tried again by itself.',
  /** The server does not answer, or nothing leads to it. */
  server: 'The server cannot be reached. It is tried again by itself.',
  /** The sign-in has ended, or was ended. */
  signedOut: 'You are no longer signed in. Sign in again in another tab, and this goes on by itself.',
  /** A fault of ours. Whether anything was changed is not known. */
  fault: 'Something went wrong on the server.'
} as const;
