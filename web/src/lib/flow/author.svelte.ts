/** Who edits: a name kept in this browser, made up until one is given. */
import { freshId } from '../id.ts';

class Author {
  name: string = $state(kept());
  /** Where there are accounts the name is the account's. */
  fixed = $state(false);

  /** Takes the name from an account. */
  sign(name: string): void {
    this.name = name;
    this.fixed = true;
  }

  rename(name: string): void {
    this.name = name;
    try {
      localStorage.setItem('author', name);
    } catch {
      // where nothing is kept the name lasts as long as the page
    }
  }
}

function kept(): string {
  try {
    const known = localStorage.getItem('author');
    if (known) return known;
    const made = `Designer ${freshId().slice(0, 4)}`;
    localStorage.setItem('author', made);
    return made;
  } catch {
    return 'Designer';
  }
}

export const author = new Author();
