package web

import (
	"context"
	"encoding/json"
	"errors"
	"strings"
	"unicode"

	"github.com/gin-gonic/gin"

	"lagoon/internal/act"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// each turns one list into another; never nil, since the contract's lists are never null.
func each[A, B any](list []A, turn func(A) B) []B {
	turned := make([]B, 0, len(list))
	for _, a := range list {
		turned = append(turned, turn(a))
	}
	return turned
}

// some is nil for the zero value: what is not there is left out.
func some[T comparable](v T) *T {
	var zero T
	if v == zero {
		return nil
	}
	return &v
}

func value[T any](p *T) T {
	var zero T
	if p == nil {
		return zero
	}
	return *p
}

// command carries a request into a job. What a key stands for is the address and the
// body together, since the address names the document.
func command(ctx context.Context, key *string, body any) act.Command {
	data, _ := json.Marshal(body) // the body was read from JSON
	if c, ok := ctx.(*gin.Context); ok {
		data = append([]byte(c.Request.URL.Path+"\n"), data...)
	}
	return act.Command{Actor: actorOf(ctx), Key: value(key), Body: data, Address: from(ctx)}
}

// numbers reads the decimal strings of a request, collecting what cannot be read.
type numbers struct{ faults fault.Faults }

func (n *numbers) decimal(text, field, what string) money.Decimal {
	if strings.TrimSpace(text) == "" {
		return 0
	}
	d, err := money.ParseDecimal(strings.TrimSpace(text))
	n.check(err, text, field, what, act.SixPlaces)
	return d
}

// steps reads per cents with their days.
func (n *numbers) steps(text *string, field string) trade.Steps {
	steps, err := trade.ParseSteps(value(text), field)
	var no *fault.Fault
	if errors.As(err, &no) {
		n.faults = append(n.faults, no)
	}
	return steps
}

// tax reads a line's tax: a rate in per cent, or what may be a tax code.
func (n *numbers) tax(text, field string) (rate money.Decimal, code string) {
	text = strings.TrimSpace(text)
	if strings.ContainsFunc(text, unicode.IsLetter) {
		return 0, text
	}
	return n.decimal(text, field, "The tax rate"), ""
}

// base reads what a price is for; blank leaves it open.
func (n *numbers) base(text, field string) money.Decimal {
	before := len(n.faults)
	base := n.decimal(text, field, "The price base")
	if base <= 0 && strings.TrimSpace(text) != "" && len(n.faults) == before {
		n.faults = append(n.faults, fault.New(fault.Invalid, field, "The quantity that a price is for is above zero."))
	}
	return base
}

func (n *numbers) check(err error, text, field, what, places string) {
	if f := act.Unreadable(err, text, field, what, places); f != nil {
		n.faults = append(n.faults, f)
	}
}

// entered is an amount as it was typed; what it comes to the job knows, with its currency.
func entered(text *string) money.Entered { return money.Entered(strings.TrimSpace(value(text))) }

// jobsOf names commands by their operations.
func jobsOf(jobs []act.Job) []string {
	return each(jobs, func(j act.Job) string { return string(j) })
}
