let said: string | null = null;
let listening = false;

/** Runs an act, and returns the sentence by which the document refused it; null when it did not. */
export function refusalOf(act: () => void): string | null {
  listening = true;
  said = null;
  try {
    act();
    return said;
  } finally {
    listening = false;
    said = null;
  }
}

/** Tells a field that waits for it why a change was refused; whether one did. */
export function tellField(sentence: string): boolean {
  if (listening) said = sentence;
  return listening;
}
