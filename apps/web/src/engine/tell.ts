/** Tells how far a search is, from 0 to 1, and what is being done. */
export type Tell = (share: number, what: string) => void;
