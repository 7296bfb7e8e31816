package say

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Refusal writes a refusal with its days and numbers as the reader is used to them.
func (p Printer) Refusal(f *fault.Fault) string {
	return f.In(func(operand any) any {
		switch o := operand.(type) {
		case day.Day:
			return p.Day(o)
		case money.Decimal:
			return p.Quantity(o)
		case money.Money:
			return p.Money(o.Amount, o.Currency)
		case trade.OrderState:
			return State(string(o))
		case trade.InvoiceState:
			return State(string(o))
		case *fault.Fault:
			return p.Refusal(o)
		default:
			return operand
		}
	})
}
