/** Who may do what, in the words that server and pages share. */

/** Of an account: `admin` manages people, `designer` makes flows, `guest` sees what is shared. */
export const roles = ['admin', 'designer', 'guest'] as const;
export type Role = (typeof roles)[number];

/** What may be done with a flow; each includes those before it. */
export const rights = ['play', 'read', 'edit', 'own'] as const;
export type Right = (typeof rights)[number];
/** What an owner can let others do. */
export type SharedRight = Exclude<Right, 'own'>;
export type TokenRight = 'read' | 'edit';
export type LinkRight = 'play' | 'read';

export const includes = (right: Right | undefined, asked: Right): boolean =>
  right !== undefined && rights.indexOf(right) >= rights.indexOf(asked);
/** The larger of two rights. */
export const larger = (one: Right | undefined, other: Right | undefined): Right | undefined =>
  other === undefined || includes(one, other) ? one : other;

/** Deleted flows can be brought back for so long, in days. */
export const keptDays = 30;

/** What a link leads to: the first account, an account, a new password, or a flow. */
export type LinkKind = 'first' | 'invitation' | 'reset' | LinkRight;

/** In a list of who may do what: everybody who has an account. */
export const house = 'house';

/** Whose page this is: nothing where there are no accounts, a name and a role where somebody is signed in. */
export interface Me {
  /** Whether the house has accounts. */
  accounts: boolean;
  person?: { id: string; name: string; role: Role };
}

export const roleWords: Record<Role, string> = {
  admin: 'admin: manages people, and all flows',
  designer: 'designer: makes flows',
  guest: 'guest: reads and plays what is shared'
};
export const rightWords: Record<SharedRight, string> = { play: 'may play it', read: 'may read it', edit: 'may edit it' };
