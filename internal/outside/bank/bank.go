// Package bank is a small simulated bank: it takes payment files, answers them and says what it booked, keeping all of it in a
// folder as the open formats that they are.
package bank

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"lagoon/internal/core/day"
	"lagoon/internal/core/fault"
	"lagoon/internal/core/money"
	"lagoon/internal/format/iso20022"
)

// Simulated answers every payment as settled, except to accounts that it believes closed, and makes a statement of the
// day of payment.
type Simulated struct {
	Folder string
	Closed []string // IBANs whose payments are rejected (reason AC04, closed account)
	Now    func() time.Time
	Behave []Behaviour // unless its folder says otherwise
	// Opening is what the account has before the first statement, in its currency (empty: euro); Rates are the bank's own for
	// payments in others (missing: one to one).
	Opening  money.Amount
	Currency money.Currency
	Rates    map[money.Currency]money.Decimal
}

// Behaviour is a way in which banks make work.
type Behaviour string

// They are.
const (
	Delay  Behaviour = "delay"  // says that it works on it, and answers when it is asked again
	Reject Behaviour = "reject" // rejects everything
	Half   Behaviour = "half"   // its answer is cut in half; it is whole when it is asked again
	Twice  Behaviour = "twice"  // answers twice
	Fee    Behaviour = "fee"    // charges 1.50 for a file
	Return Behaviour = "return" // gives the first payment back on the next day, less 5.00
	Debit  Behaviour = "debit"  // books a direct debit of 49.90 that nobody knows
)

// Behaviours are all of them.
var Behaviours = []Behaviour{Delay, Reject, Half, Twice, Fee, Return, Debit}

// Words are all of them in a row.
func Words() string {
	return strings.Join(wordsOf(Behaviours), ", ")
}

// Behaving reads behaviours with commas between them; a word that is none is an error.
func Behaving(words string) (all []Behaviour, err error) {
	for word := range strings.SplitSeq(words, ",") {
		one := Behaviour(strings.TrimSpace(word))
		if one == "" {
			continue
		}
		if !slices.Contains(Behaviours, one) {
			return nil, fmt.Errorf("a bank behaves in one of these ways: %s; not %q", Words(), one)
		}
		all = append(all, one)
	}
	return all, nil
}

const (
	answerFile    = ".pain.002.xml"
	statementFile = ".camt.053.xml"
	late          = ".late" // is given when the bank is asked again
)

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
	if b.Behave, err = b.Behaving(); err != nil {
		return err
	}
	if err := b.answer(order); err != nil {
		return err
	}
	return whole(in, file)
}

// behaves is the file in the folder that says how the bank behaves from now on.
const behaves = "behaves.txt"

// Behaving is how the bank behaves now: as its folder says or, where it says nothing, as it was made.
func (b Simulated) Behaving() ([]Behaviour, error) {
	words, err := os.ReadFile(filepath.Join(b.Folder, behaves))
	if errors.Is(err, fs.ErrNotExist) {
		return b.Behave, nil
	}
	if err != nil {
		return nil, err
	}
	return Behaving(string(words))
}

// SetBehaving has the bank behave so from its next file on, also after it was stopped.
func (b Simulated) SetBehaving(how []Behaviour) error {
	words := strings.Join(wordsOf(how), ",")
	if _, err := Behaving(words); err != nil {
		return err
	}
	return errors.Join(os.MkdirAll(b.Folder, 0o700), whole(filepath.Join(b.Folder, behaves), []byte(words)))
}

func (b Simulated) does(what Behaviour) bool { return slices.Contains(b.Behave, what) }

// answer writes what the bank says of an order, and what it booked for it.
func (b Simulated) answer(order iso20022.Order) error {
	answer := iso20022.Answer{Message: "A-" + order.Message, Created: b.Now(), Original: order.Message}
	var paid []iso20022.Transfer
	for _, t := range order.Transfers {
		p := iso20022.PaymentAnswer{EndToEnd: t.EndToEnd, Status: iso20022.Settled}
		switch {
		case slices.Contains(b.Closed, t.IBAN):
			p.Status, p.Code, p.Text = iso20022.Rejected, "AC04", "Closed account number"
		case b.does(Reject):
			p.Status, p.Code, p.Text = iso20022.Rejected, "AG01", "Transaction forbidden on this account"
		default:
			paid = append(paid, t)
		}
		answer.Payments = append(answer.Payments, p)
	}
	said, err := iso20022.WriteAnswer(answer)
	if err != nil {
		return err
	}
	then := ""
	if b.does(Delay) {
		pending, err := iso20022.WriteAnswer(iso20022.Answer{Message: "P-" + order.Message, Created: b.Now(), Original: order.Message, Group: iso20022.Pending})
		if err = errors.Join(err, b.write(order.Message+"-P"+answerFile, pending)); err != nil {
			return err
		}
		then = late
	}
	if b.does(Half) {
		if err := b.write(order.Message+"-half"+answerFile, said[:len(said)/2]); err != nil {
			return err
		}
		then = late
	}
	if err := b.write(order.Message+answerFile+then, said); err != nil {
		return err
	}
	if b.does(Twice) {
		if err := b.write(order.Message+"-again"+answerFile+then, said); err != nil {
			return err
		}
	}
	return b.statements(order, paid, then)
}

// statements writes the statement of the day of payment, and that of the next where a payment comes back.
func (b Simulated) statements(order iso20022.Order, paid []iso20022.Transfer, then string) error {
	var lines []iso20022.StatementLine
	for i, t := range paid {
		amount, err := b.taken(t)
		if err != nil {
			return err
		}
		lines = append(lines, iso20022.StatementLine{
			Day: order.PayOn, Amount: -amount, EndToEnd: t.EndToEnd, Reference: fmt.Sprintf("%s/%d", order.PayOn, i+1), Name: t.Creditor, IBAN: t.IBAN,
			Text: strings.TrimSpace(t.Reference + t.Remittance), Code: "PMNT-ICDT-ESCT",
		})
	}
	if b.does(Fee) {
		lines = append(lines, iso20022.StatementLine{Day: order.PayOn, Amount: -150, Reference: "fee", Text: "Payment file " + order.Message, Code: "ACMT-MDOP-CHRG"})
	}
	if b.does(Debit) {
		lines = append(lines, iso20022.StatementLine{Day: order.PayOn, Amount: -4_990, Reference: "direct debit", Name: "Sound Telephone", Text: "Contract 5507", Code: "PMNT-RDDT-ESDD"})
	}
	if len(lines) == 0 {
		return nil
	}
	if err := b.statement(order, "S-", order.PayOn, lines, then); err != nil || !b.does(Return) || len(paid) == 0 {
		return err
	}
	back := lines[0] // of the first that was paid
	back.Day, back.Amount, back.Returned, back.Reason, back.Code = order.PayOn.Add(1).BankDay(), -back.Amount-500, true, "AC04 Closed account number", "PMNT-ICDT-RRTN"
	return b.statement(order, "R-", back.Day, []iso20022.StatementLine{back}, late)
}

// Book writes a statement of what no payment file ordered.
func (b Simulated) Book(iban string, lines ...iso20022.StatementLine) error {
	return b.statement(iso20022.Order{Message: fmt.Sprintf("%s-%d", lines[0].Day, len(lines)), IBAN: iban}, "B-", lines[0].Day, lines, "")
}

// taken is what a payment takes off the account, at the bank's own rate.
func (b Simulated) taken(t iso20022.Transfer) (money.Amount, error) {
	rate, known := b.Rates[t.Currency]
	if t.Currency == b.currency() || !known {
		return t.Amount, nil
	}
	return t.Amount.Convert(rate, t.Currency, b.currency())
}

func (b Simulated) currency() money.Currency {
	if b.Currency == "" {
		return "EUR"
	}
	return b.Currency
}

// statement writes one after the last, which said what the account has.
func (b Simulated) statement(order iso20022.Order, mark string, on day.Day, lines []iso20022.StatementLine, then string) error {
	balance, err := b.balance(order.IBAN)
	if err != nil {
		return err
	}
	s := iso20022.Statement{
		Message: mark + order.Message, ID: mark + order.Message, Created: b.Now(), IBAN: order.IBAN, Currency: b.currency(), From: on, To: on,
		Opening: balance, Closing: balance, Lines: lines,
	}
	s.ID = s.ID[:min(35, len(s.ID))]
	s.Message = s.ID
	for _, l := range lines {
		s.Closing += l.Amount
	}
	file, err := iso20022.WriteStatement(s)
	if err != nil {
		return err
	}
	return b.write(mark+order.Message+statementFile+then, file)
}

// balance is what the last statement of an account says that it has; each has the same to begin with.
func (b Simulated) balance(iban string) (money.Amount, error) {
	said, err1 := filepath.Glob(filepath.Join(b.Folder, "*"+statementFile))
	waiting, err2 := filepath.Glob(filepath.Join(b.Folder, "*"+statementFile+late))
	if err := errors.Join(err1, err2); err != nil {
		return 0, err
	}
	said = append(said, waiting...)
	slices.Sort(said)
	for _, name := range slices.Backward(said) {
		file, err := os.ReadFile(name)
		if err != nil {
			return 0, err
		}
		statements, err := iso20022.ReadStatements(file)
		if err != nil {
			return 0, err
		}
		if last := statements[len(statements)-1]; last.IBAN == iban {
			return last.Closing, nil
		}
	}
	return b.Opening, nil
}

// write writes a file after those that are there already, whole or not at all. What was written before it was stopped
// half-way stays as it is.
func (b Simulated) write(name string, content []byte) error {
	there, err := filepath.Glob(filepath.Join(b.Folder, "[0-9][0-9][0-9][0-9][0-9]-*"))
	if err != nil {
		return err
	}
	for _, path := range there {
		if strings.TrimSuffix(filepath.Base(path)[6:], late) == strings.TrimSuffix(name, late) {
			return nil
		}
	}
	return whole(filepath.Join(b.Folder, fmt.Sprintf("%05d-%s", len(there)+1, name)), content)
}

// whole writes a file whole or not at all.
func whole(path string, content []byte) error {
	part := path + ".part"
	if err := os.WriteFile(part, content, 0o600); err != nil {
		return err
	}
	return os.Rename(part, path)
}

// Answers gives every answer and statement that the bank has written so far, oldest first. What is late is there when the bank
// is asked the next time.
func (b Simulated) Answers(context.Context) ([][]byte, error) {
	var names []string
	for _, kind := range []string{answerFile, statementFile} {
		found, err := filepath.Glob(filepath.Join(b.Folder, "*"+kind))
		if err != nil {
			return nil, err
		}
		names = append(names, found...)
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
	waiting, err := filepath.Glob(filepath.Join(b.Folder, "*"+late))
	if err != nil {
		return nil, err
	}
	for _, name := range waiting {
		if err := os.Rename(name, strings.TrimSuffix(name, late)); err != nil {
			return nil, err
		}
	}
	return answers, nil
}
