package invoices

// What the tests see of the inside.
var OrderNumbers = orderNumbers
