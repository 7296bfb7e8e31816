package views

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestOnlyWhatChangedIsTold(t *testing.T) {
	was := `{"ID":7,"Version":1,"Name":"Corran Vet Partners","Terms":{"NetDays":30},"Addresses":[{"City":"Corran"}],"Once":false,"LeastOrder":10000}`
	becomes := `{"ID":7,"Version":2,"Name":"Corran Vet Partners","Terms":{"NetDays":14},"Addresses":[{"City":"Corran"},{"City":"Brack"}],"Holds":["payment_held","in_dispute"],"Once":true,"LeastOrder":10000,"Currency":"JPY"}`

	from, into := told([]byte(was), []byte(becomes), "EUR")
	assert.Equal(t, "terms net days 30, least order 100.00", from)
	assert.Equal(t, "terms net days 14, address 2 city Brack, holds payment held and in dispute, for this once, least order 10000, currency JPY", into)

	_, into = told(nil, []byte(`{"Lines":[{"No":3,"Quantity":"5"}]}`), "EUR")
	assert.Equal(t, "line 3 quantity 5", into, "a line is named by its own number")

	from, into = told(nil, []byte(was), "EUR")
	assert.Empty(t, from)
	assert.Equal(
		t,
		"name Corran Vet Partners, terms net days 30, address 1 city Corran, least order 100.00",
		into,
		"as made, whole but for what only the program goes by",
	)
}
