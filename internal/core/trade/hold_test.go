package trade

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Rules §3 and §7: holds on a supplier stand beside each other, each once and in one order, and come back from their names.
func TestHoldsStandBesideEachOther(t *testing.T) {
	var none Holds
	both := none.With(NothingOrdered).With(PaymentHeld).With(PaymentHeld)
	assert.Equal(t, Holds{PaymentHeld, NothingOrdered}, both)
	assert.Equal(t, both, HoldsOf(both.String()))
	assert.Equal(t, Holds{PaymentHeld}, both.OfPayment())
	assert.Empty(t, none.With(NothingOrdered).OfPayment(), "what is not ordered is paid all the same")
	assert.Empty(t, both.Without(PaymentHeld).Without(NothingOrdered).String())
	assert.Empty(t, HoldsOf("gone payment"), "other words are no holds")
}
