/** A name for the next message of a sequence: that of the sequence, and the first number that is free. */
export function newMessageName(sequence: string, messages: { name: string }[]): string {
  const taken = new Set(messages.map((one) => one.name.toLowerCase()));
  let number = 1;
  while (taken.has(`${sequence} ${number}`.toLowerCase())) number += 1;
  return `${sequence} ${number}`;
}
