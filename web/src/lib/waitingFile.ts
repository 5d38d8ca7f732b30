/** A file dropped on one screen that another screen opens. */
let waiting: File | null = null;

export function leaveFile(file: File): void {
  waiting = file;
}

/** The waiting file, once. */
export function takeWaitingFile(): File | null {
  const found = waiting;
  waiting = null;
  return found;
}

export const isMarkerFile = (name: string): boolean => /\.(c3d|trc)$/i.test(name);
