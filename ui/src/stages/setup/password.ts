/** A password for once that can be read out: four groups of four letters that are not taken for one another. */
export function givenPassword(): string {
  const letters = 'abcdefghjkmnpqrstuvwxyz'
  const random = crypto.getRandomValues(new Uint8Array(16))
  const text = Array.from(random, (n) => letters[n % letters.length]).join('')
  return text.replace(/(.{4})(?=.)/g, '$1-')
}
