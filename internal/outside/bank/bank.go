// Package bank is a small simulated bank: it takes payment files and answers them,
// keeping both in a folder as the open formats that they are.
package bank

import (
	"context"
	"errors"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"lagoon/internal/core/fault"
	"lagoon/internal/format/iso20022"
)

// Simulated answers every payment as settled, except to accounts that it believes closed.
type Simulated struct {
	Folder string
	Closed []string // IBANs whose payments are rejected (reason AC04, closed account)
	Now    func() time.Time
}

// Submit takes a pain.001 file. The same message is taken once, however often it is sent.
func (b Simulated) Submit(_ context.Context, file []byte) error {
	order, err := iso20022.ReadOrder(file)
	if err != nil {
		return err
	}
	if strings.ContainsAny(order.Message, `/\.`) || order.Message == "" {
		return fault.New(fault.Invalid, "file", "The payment file has no usable message id.")
	}
	if err := os.MkdirAll(b.Folder, 0o700); err != nil {
		return err
	}
	in := filepath.Join(b.Folder, order.Message+".pain.001.xml")
	if _, err := os.Stat(in); err == nil {
		return nil
	}
	answer := iso20022.Answer{Message: "A-" + order.Message, Created: b.Now(), Original: order.Message}
	for _, t := range order.Transfers {
		p := iso20022.PaymentAnswer{EndToEnd: t.EndToEnd, Status: iso20022.Settled}
		if slices.Contains(b.Closed, t.IBAN) {
			p.Status, p.Code, p.Text = iso20022.Rejected, "AC04", "Closed account number"
		}
		answer.Payments = append(answer.Payments, p)
	}
	out, err := iso20022.WriteAnswer(answer)
	if err != nil {
		return err
	}
	if err := os.WriteFile(filepath.Join(b.Folder, order.Message+".pain.002.xml"), out, 0o600); err != nil {
		return err
	}
	return os.WriteFile(in, file, 0o600)
}

// Answers gives every answer that the bank has written so far, oldest first.
func (b Simulated) Answers(context.Context) ([][]byte, error) {
	names, err := filepath.Glob(filepath.Join(b.Folder, "*.pain.002.xml"))
	if err != nil {
		return nil, err
	}
	slices.Sort(names)
	var answers [][]byte
	for _, name := range names {
		content, err := os.ReadFile(name)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return nil, err
		}
		answers = append(answers, content)
	}
	return answers, nil
}
