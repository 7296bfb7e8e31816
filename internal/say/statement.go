package say

// This file writes to a supplier about its statement.

import (
	"fmt"
	"strings"

	"lagoon/internal/core/money"
	"lagoon/internal/core/reconcile"
)

// StatementMail asks a supplier for the documents of its statement that are not here.
func (l Letters) StatementMail(day string, missing []reconcile.Theirs, currency money.Currency) (subject, text string) {
	p := l.printer()
	body := []string{fmt.Sprintf(l.word("statement text"), day), ""}
	for _, m := range missing {
		body = append(body, strings.TrimRight(fmt.Sprintf("  %s  %s  %s", m.Number, p.Money(m.Amount, currency), m.Day), " "))
	}
	body = append(body, "", l.word("statement asks"))
	return fmt.Sprintf(l.word("statement mail"), day) + ", " + l.Company.Name, l.letter(strings.Join(body, "\n"))
}
