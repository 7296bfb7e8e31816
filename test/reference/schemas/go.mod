// The message definitions (XSD) that this module ships, for the tests only.
module lagoon/test/reference/schemas

go 1.26

require github.com/moov-io/iso20022 v0.2.1
