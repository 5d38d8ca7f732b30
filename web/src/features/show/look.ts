/** Picture and words side by side, or one over the other where the screen stands upright; nothing scrolls. */
export const SHOWN =
  "grid h-full cursor-pointer grid-cols-[minmax(0,44fr)_minmax(0,56fr)] grid-rows-[minmax(0,1fr)] items-center gap-x-10 px-10 portrait:grid-cols-[minmax(0,1fr)] portrait:grid-rows-[minmax(0,46fr)_minmax(0,54fr)] max-[700px]:px-4";

/** Letters as large as the sentence allows. */
export const sentenceSize = (text: string) =>
  text.length > 96
    ? "text-[48px] max-[1100px]:text-[40px] max-[700px]:text-[26px]"
    : text.length > 64
      ? "text-[60px] max-[1100px]:text-[48px] max-[700px]:text-[30px]"
      : "text-[72px] max-[1100px]:text-[60px] max-[700px]:text-[34px]";
