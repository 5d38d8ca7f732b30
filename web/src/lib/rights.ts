/** What whoever is signed in may do, so that no control leads to what is not theirs. */
export type Right = "account" | "watch" | "diary" | "fit" | "teach" | "rules" | "own";

/** Until it is known everything is shown: the server decides in any case. */
export const may = (me: { rights?: readonly Right[] } | undefined, right: Right): boolean => me?.rights?.includes(right) ?? true;
