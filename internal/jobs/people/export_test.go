package people

// What the tests see of the inside.
var CheckPassword = checkPassword
