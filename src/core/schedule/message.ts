/** A place mail goes to: a plain address, without a name (RFC 5322 addr-spec, common practice's subset). */
const MAIL_ADDRESS = /^[^\s@<>,;:"()[\]\\]+@[a-z0-9]([a-z0-9.-]*[a-z0-9])?$/i;
const MOST_ADDRESSES = 50;
const MOST_CHARACTERS = 200;

/** What keeps a message from being sent, in a sentence; null where nothing does. */
export function messageProblem({ to, subject }: { to: string[]; subject: string }): string | null {
  if (to.length === 0) return "Enter at least one address.";
  if (to.length > MOST_ADDRESSES) return `Too many addresses: ${MOST_ADDRESSES} at most.`;
  const wrong = to.find((address) => address.length > MOST_CHARACTERS || !MAIL_ADDRESS.test(address));
  if (wrong !== undefined) return `“${wrong.slice(0, 60)}” is not an address. Write an address like name@example.org.`;
  if (subject === "") return "Enter a subject.";
  if (subject.length > MOST_CHARACTERS) return `The subject is too long: ${MOST_CHARACTERS} characters at most.`;
  return /[\r\n]/.test(subject) ? "A subject has only one line." : null;
}
