package act

// What the tests see of the inside.
const MostChanges = mostChanges
