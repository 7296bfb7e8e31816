package people

// What the tests see of the inside.
var (
	CheckPassword = checkPassword
	Cost          = cost
)

// Nobody is compared with where a name is unknown.
const Nobody = nobody
