package orders

// What the tests see of the inside.
const MailTries = mailTries
