/** One open page of a flow: whose it is, and which place is selected there. */
export interface Present {
  client: string;
  name: string;
  place: string | null;
}
