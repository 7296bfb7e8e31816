package jobs

import (
	"errors"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
	"lagoon/internal/core/finding"
	"lagoon/internal/core/ledger"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
	"lagoon/internal/say"
	"lagoon/internal/store"
)

func refused(t *testing.T, err error, kind fault.Kind, words string) {
	t.Helper()
	var f *fault.Fault
	require.True(t, errors.As(err, &f), "%v is no refusal", err)
	require.Equal(t, kind, f.Kind, f.Sentence)
	require.Contains(t, f.Sentence, words)
}

// An invoice before its goods waits, and verifies itself when they are booked.
func TestWaitingMovesByItself(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "8")
	require.Equal(t, money.Amount(-9_600), b.balance("grni"))
	first := b.key(b.bill("BRACK", order, "A-1", "10", "12"))
	require.Equal(t, trade.Waiting, first.State)
	second := b.key(b.bill("BRACK", order, "A-2", "1", "12"))
	require.Equal(t, trade.Waiting, second.State, "11 of 10 is within the order's over-limit")
	b.deliver(order, "DN 2", "2")
	require.Equal(t, trade.Verified, b.state(first.Number).State)
	require.Equal(t, trade.Held, b.state(second.Number).State, "the earlier invoice claims first, and nothing more can arrive")
	require.Zero(t, b.balance("grni"))
	b.proved()
}

// A held invoice: the approver accepts within the authority, the maker and the clerk may not.
func TestAcceptance(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "100")
	b.deliver(order, "DN 1", "100")
	entry := b.bill("BRACK", order, "A-1", "100", "18") // 600.00 dearer
	captured, err := b.app.KeyInvoice(b.ctx, b.as("both"), entry)
	require.NoError(t, err)
	require.Equal(t, trade.Held, captured.State)
	accept := AcceptEntry{Invoice: captured.Number, Kind: finding.UnitPrice, Line: 1, Note: "agreed"}
	_, err = b.app.AcceptFinding(b.ctx, b.as("both"), accept)
	refused(t, err, fault.Forbidden, "your own")
	_, err = b.app.AcceptFinding(b.ctx, b.as("clerk"), accept)
	refused(t, err, fault.Forbidden, "approver")
	_, err = b.app.AcceptFinding(b.ctx, b.as("treasurer"), accept)
	refused(t, err, fault.Forbidden, "approver")
	_, err = b.app.AcceptFinding(b.ctx, b.as("approver"), accept)
	refused(t, err, fault.Forbidden, "your authority is 500.00 EUR")
	rich := b.actors["approver"]
	rich.Authority = 60_000
	_, err = b.app.AcceptFinding(b.ctx, Command{Actor: rich}, AcceptEntry{Invoice: captured.Number, Kind: finding.UnitPrice, Line: 1})
	refused(t, err, fault.Invalid, "note")
	accepted, err := b.app.AcceptFinding(b.ctx, Command{Actor: rich}, accept)
	require.NoError(t, err)
	require.Equal(t, trade.Verified, accepted.State)
	require.Equal(t, money.Amount(60_000), b.balance("price_variance"))
	b.proved()
}

func TestStatedTotalIsCorrectedNotAccepted(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	entry := b.bill("BRACK", order, "A-1", "10", "12")
	right := entry.Invoice.StatedTotal
	entry.Invoice.StatedTotal += 100
	captured := b.key(entry)
	require.Equal(t, trade.Held, captured.State)
	_, err := b.app.AcceptFinding(b.ctx, b.as("approver"), AcceptEntry{Invoice: captured.Number, Kind: finding.StatedTotal, Note: "fine"})
	refused(t, err, fault.Refused, "not accepted")
	entry.Invoice.StatedTotal, entry.Version = right, 99
	_, err = b.app.CorrectInvoice(b.ctx, b.as("clerk"), captured.Number, entry)
	refused(t, err, fault.Changed, "changed meanwhile")
	entry.Version = b.state(captured.Number).Version
	_, err = b.app.CorrectInvoice(b.ctx, b.as("clerk"), captured.Number, entry)
	refused(t, err, fault.Invalid, "why")
	entry.Reason = "typing error"
	corrected, err := b.app.CorrectInvoice(b.ctx, b.as("clerk"), captured.Number, entry)
	require.NoError(t, err)
	require.Equal(t, trade.Verified, corrected.State)
	b.proved()
}

// The same number is refused and names the first; void and refused documents do not block.
func TestDuplicates(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "100")
	b.deliver(order, "DN 1", "100")
	first := b.key(b.bill("BRACK", order, "BF-00204", "10", "12"))
	for _, same := range []string{"BF-00204", "bf-00204"} {
		_, err := b.app.KeyInvoice(b.ctx, b.as("clerk"), b.bill("BRACK", order, same, "20", "12"))
		refused(t, err, fault.Duplicate, fmt.Sprintf("invoice %d", first.Number))
	}
	_, err := b.app.KeyInvoice(b.ctx, b.as("clerk"), b.bill("BRACK", order, "BF 00204", "10", "12"))
	refused(t, err, fault.Duplicate, "here already") // spelled otherwise, with the same day and total
	_, err = b.app.KeyInvoice(b.ctx, b.as("clerk"), b.bill("BRACK", order, "BF/204", "20", "12"))
	refused(t, err, fault.Duplicate, "here already") // the leading zeros of a run of digits say nothing; the day is the same
	_, err = b.app.PlanInvoice(b.ctx, b.actors["clerk"], b.bill("BRACK", order, "bf-00204", "10", "12"), 0)
	refused(t, err, fault.Duplicate, "here already") // said before anything is captured
	entry := b.bill("BRACK", order, "BF/00204", "20", "12")
	entry.Invoice.Date = entry.Invoice.Date.Add(-1)
	likely := b.key(entry)
	require.Equal(t, trade.Held, likely.State, "spelled otherwise, with another day and total")
	require.Equal(t, "second copy?", b.state(likely.Number).Summary)
	_, err = b.app.VoidInvoice(b.ctx, b.as("clerk"), Ending{Invoice: first.Number, Reason: "wrong supplier"})
	require.NoError(t, err)
	again := b.key(b.bill("BRACK", order, "BF-00204", "10", "12"))
	require.Greater(t, again.Number, likely.Number, "a void document does not block")
	b.proved()
}

// Void takes back entry and allocations, also of goods that filled it later.
func TestVoidRestoresWhatItUsed(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "8")
	e := b.bill("BRACK", order, "A-1", "10", "12.12")
	waiting := b.key(e)
	_, err := b.app.AcceptFinding(b.ctx, b.as("approver"), AcceptEntry{Invoice: waiting.Number, Kind: finding.OverReceived, Line: 1, Note: "they are on the lorry"})
	require.NoError(t, err)
	require.Equal(t, trade.Verified, b.state(waiting.Number).State)
	require.Equal(t, money.Amount(2_400), b.balance("grni"), "billed beyond receipts")
	b.proved()
	b.deliver(order, "DN 2", "2")
	require.Zero(t, b.balance("grni"))
	b.proved()
	_, err = b.app.VoidInvoice(b.ctx, b.as("approver"), Ending{Invoice: waiting.Number, Reason: "not ours"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(-12_000), b.balance("grni"))
	require.Zero(t, b.balance("payables")+b.balance("price_variance")+b.balance("input_tax"))
	b.proved()
}

func TestReversal(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	wrong := b.deliver(order, "DN 1", "6")
	b.key(b.bill("BRACK", order, "A-1", "2", "12"))
	reversed, err := b.app.ReverseDelivery(b.ctx, b.as("receiver"), ReversalEntry{Delivery: wrong.Number, Reason: "wrong pallet"})
	require.NoError(t, err)
	require.Equal(t, money.Amount(-4_800), reversed.Value, "only as far as it is not invoiced")
	require.Zero(t, b.balance("grni"))
	_, err = b.app.ReverseDelivery(b.ctx, b.as("receiver"), ReversalEntry{Delivery: wrong.Number, Reason: "again"})
	refused(t, err, fault.Refused, "already")
	b.deliver(order, "DN 1", "8") // a reversed note is free again
	b.proved()
}

func TestDeliveryRefusals(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "20", "5")
	entry := count(order, "DN 1", "15")
	entry.Lines[0].Close = true
	_, err := b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	refused(t, err, fault.Refused, "5 kg short is 25 %; 10 % is allowed by the company. At least 18 kg must come now")
	_, err = b.app.BookDelivery(b.ctx, b.as("clerk"), count(order, "DN 1", "15"))
	refused(t, err, fault.Forbidden, "receiver")
	b.deliver(order, "DN 1", "10")
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "dn-1", "10"))
	refused(t, err, fault.Duplicate, "second part")
	stale := count(order, "DN 2", "0", "5")
	stale.Before = map[int]money.Decimal{1: 0, 2: 0}
	b.deliverEntry(stale) // another line's change refuses nothing
	late := count(order, "DN 3", "5")
	late.Before = map[int]money.Decimal{1: 0}
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), late)
	refused(t, err, fault.Changed, "10 are received now")
	b.proved()
}

func (b *bench) deliverEntry(e DeliveryEntry) {
	b.t.Helper()
	e.Lines = e.Lines[1:]
	_, err := b.app.BookDelivery(b.ctx, b.as("receiver"), e)
	require.NoError(b.t, err)
}

// A command is done once, however often it is sent.
func TestKeys(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	c := b.as("receiver")
	c.Key, c.Body = "k1", []byte("five")
	first, err := b.app.BookDelivery(b.ctx, c, count(order, "DN 1", "5"))
	require.NoError(t, err)
	again, err := b.app.BookDelivery(b.ctx, c, count(order, "DN 1", "5"))
	require.NoError(t, err)
	require.Equal(t, first, again)
	c.Body = []byte("six")
	_, err = b.app.BookDelivery(b.ctx, c, count(order, "DN 2", "6"))
	refused(t, err, fault.Refused, "something else")
	require.Equal(t, money.Amount(-6_000), b.balance("grni"))
	c.Key = "k2"
	_, err = b.app.BookDelivery(b.ctx, c, count(order, "DN 1", "5"))
	refused(t, err, fault.Duplicate, "booked as delivery")
	_, err = b.app.BookDelivery(b.ctx, c, count(order, "DN 3", "1"))
	require.NoError(t, err, "a refused command keeps no key")
}

// A keyed invoice is refused a closed period and told the first open day; what Lagoon books later takes it by itself.
func TestClosedPeriods(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	require.NoError(t, b.app.ClosePeriod(b.ctx, b.as("admin"), testPeriod))
	e := b.bill("BRACK", order, "A-1", "10", "12")
	e.Invoice.PostingDay = "2026-10-31"
	_, err := b.app.KeyInvoice(b.ctx, b.as("clerk"), e)
	refused(t, err, fault.Invalid, "The first open day is 2026-11-01")
	e.Invoice.PostingDay = ""
	waiting := b.key(e)
	b.later(20)
	require.NoError(t, b.app.ClosePeriod(b.ctx, b.as("admin"), "2026-11"))
	entry := count(order, "DN 1", "10")
	entry.Day = b.today()
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), entry)
	require.NoError(t, err)
	require.NoError(t, b.app.Drain(b.ctx))
	sheet, err := b.app.InvoiceSheet(b.ctx, waiting.Number, b.actors["clerk"])
	require.NoError(t, err)
	require.Equal(t, "2026-12-13", string(sheet.Entries[0].PostedOn), "on the first open day, and not before the goods")
}

func TestFreeOfCharge(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "100")
	b.deliver(order, "DN 1", "110")
	b.key(b.bill("BRACK", order, "A-1", "100", "12"))
	free := FreeEntry{Order: order, Line: 1, Note: "a present"}
	answer, err := b.app.AcceptFree(b.ctx, b.as("approver"), free)
	require.NoError(t, err)
	require.Equal(t, dec("10"), answer.Quantity)
	require.Zero(t, b.balance("grni"))
	_, err = b.app.AcceptFree(b.ctx, b.as("approver"), free)
	refused(t, err, fault.Refused, "nothing")
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "DN 2", "1"))
	refused(t, err, fault.Refused, "closed")
	b.proved()
}

// Nobody may give a command that their roles do not allow, and no command is without roles.
func TestEveryCommandHasRoles(t *testing.T) {
	b := setUp(t)
	for job, roles := range Permissions {
		require.NotEmpty(t, roles, job)
		require.Equal(t, len(roles) == len(AllRoles), b.actors["reader"].May(job), job) // one's own account is everybody's
		require.False(t, Actor{ID: -1}.May(job), job)
		require.NotEqual(t, string(job), say.Doing(string(job)), "%s has words for the record", job)
		for _, r := range roles {
			require.True(t, Actor{ID: 5, Roles: []string{r}}.May(job))
			require.Contains(t, AllRoles, r)
		}
	}
}

func TestSignIn(t *testing.T) {
	b := setUp(t)
	actor, err := b.app.SignIn(b.ctx, " ADMIN ", "long enough for us")
	require.NoError(t, err)
	require.Equal(t, "Ad Min", actor.Name)
	for _, wrong := range [][2]string{{"admin", "long enough for them"}, {"nobody", "long enough for us"}, {"clerk", ""}} {
		_, err := b.app.SignIn(b.ctx, wrong[0], wrong[1])
		refused(t, err, fault.SignIn, "do not go together")
	}
	_, err = b.app.Found(b.ctx, Founding{Company: store.Company{Name: "X", Currency: "EUR", Zone: "UTC"}, First: PersonEntry{Login: "x", Name: "X", Password: "another long one"}})
	refused(t, err, fault.Forbidden, "set up already")
	hash, err := HashPassword("secret secret")
	require.NoError(t, err)
	require.True(t, strings.HasPrefix(hash, "$argon2id$"))
	require.NotContains(t, hash, "secret")
}

// Every booking stands with its entry, state and audit row, or not at all.
func TestAllOrNothing(t *testing.T) {
	b := setUp(t)
	order := b.order("BRACK", "10")
	_, err := b.store.Exec(b.ctx, `CREATE TRIGGER broken BEFORE INSERT ON audit WHEN new.subject = 'delivery' BEGIN SELECT RAISE(ABORT, 'disk full'); END`)
	require.NoError(t, err)
	_, err = b.app.BookDelivery(b.ctx, b.as("receiver"), count(order, "DN 1", "5"))
	require.ErrorContains(t, err, "disk full")
	_, err = b.store.Exec(b.ctx, `DROP TRIGGER broken`)
	require.NoError(t, err)
	require.Zero(t, b.balance("grni"))
	booked := b.deliver(order, "DN 1", "5")
	require.Equal(t, int64(7001), booked.Number, "the number was given back")
	b.proved()
}

// Whatever is changed by hand is found.
func TestVerifyFindsWhatIsChangedByHand(t *testing.T) {
	for name, damage := range map[string]string{
		"entry":      `DROP TRIGGER entry_line_kept; UPDATE entry_line SET base = base + 1 WHERE entry = 1 AND no = 1`,
		"grni":       `DROP TRIGGER entry_line_kept; UPDATE entry_line SET detail = '9/9' WHERE role = 'grni'`,
		"receipt":    `DROP TRIGGER receipt_line_kept; UPDATE receipt_line SET quantity = quantity + 1`,
		"value":      `DROP TRIGGER receipt_line_kept; UPDATE receipt_line SET value_base = value_base + 1`,
		"line state": `UPDATE order_line_state SET billed = billed + 1`,
		"closed":     `UPDATE order_line_state SET closed_goods = 1`,
		"open":       `UPDATE invoice_state SET open = open - 1 WHERE state = 'verified'`,
		"state":      `UPDATE invoice_state SET state = 'held' WHERE state = 'verified'`,
		"allocation": `DROP TRIGGER allocation_stays; DELETE FROM allocation`,
		"audit":      `DROP TRIGGER audit_kept; UPDATE audit SET actor = 'somebody' WHERE seq = 3`,
		"audit hole": `DROP TRIGGER audit_stays; DELETE FROM audit WHERE seq = 4`,
	} {
		t.Run(name, func(t *testing.T) {
			b := setUp(t)
			order := b.order("BRACK", "10")
			b.deliver(order, "DN 1", "10")
			b.key(b.bill("BRACK", order, "A-1", "4", "12"))
			b.proved()
			_, err := b.store.Exec(b.ctx, damage)
			require.NoError(t, err)
			v, err := b.app.Verify(b.ctx)
			require.NoError(t, err)
			require.NotEmpty(t, v.Differences)
		})
	}
}

// What cannot be read any more is named, and the rest is verified all the same.
func TestVerifyGoesOnPastWhatItCannotRead(t *testing.T) {
	for damage, says := range map[string]string{
		`PRAGMA foreign_keys = OFF; DROP TRIGGER invoice_line_stays; DELETE FROM invoice_line WHERE invoice_revision = 1`: "is about line 1 of an invoice with 0 lines",
		`DROP TRIGGER match_run_kept; UPDATE match_run SET findings = findings || 'x' WHERE invoice = 1`:                  "invalid character 'x'",
	} {
		b := setUp(t)
		order := b.order("BRACK", "10")
		b.deliver(order, "DN 1", "10")
		b.key(b.bill("BRACK", order, "A-1", "4", "11"))
		b.key(b.bill("BRACK", order, "A-2", "4", "12"))
		b.proved()
		_, err := b.store.Exec(b.ctx, damage+`; UPDATE invoice_state SET open = open - 1 WHERE invoice = 2`)
		require.NoError(t, err)
		v, err := b.app.Verify(b.ctx)
		require.NoError(t, err)
		said := map[string]string{}
		for _, d := range v.Differences {
			said[d.Document] += d.Text
		}
		require.Contains(t, said["invoice with row key 1"], says)
		require.Contains(t, said["invoice 1002"], "stands otherwise", v.Differences)
		require.Positive(t, v.AuditRows)
	}
}

// An e-invoice whose supplier, order or line cannot be found is kept, with what is missing.
func TestImport(t *testing.T) {
	b := setUp(t)
	content, err := os.ReadFile("testdata/invoice.xml")
	require.NoError(t, err)
	order := b.order("BRACK", "10")
	b.deliver(order, "DN 1", "10")
	text := strings.ReplaceAll(string(content), "ORDER", fmt.Sprint(order))
	give := func(text string) (Captured, error) {
		return b.app.ImportInvoice(b.ctx, b.as("clerk"), File{"i.xml", []byte(text)})
	}
	good, err := give(text)
	require.NoError(t, err)
	require.Equal(t, trade.Verified, good.State, good.Summary)
	require.NotZero(t, good.Entry)
	paper, kept, err := b.app.InvoicePaper(b.ctx, good.Number)
	require.NoError(t, err)
	require.Equal(t, text, string(kept))
	require.Equal(t, "i.xml", paper.Name)
	_, err = give(text)
	refused(t, err, fault.Duplicate, fmt.Sprintf("invoice %d", good.Number))
	for change, missing := range map[[2]string]string{
		{"IE1", "IE9"}: "supplier unknown, order unknown",
		{"<cbc:ID>PO " + fmt.Sprint(order), "<cbc:ID>PO 9"}: "order unknown",
		{"<cbc:LineID>1<", "<cbc:LineID>7<"}:                "line unknown",
	} {
		other := strings.ReplaceAll(text, change[0], change[1])
		other = strings.Replace(other, "Brackwater Feeds", "Somebody "+missing, 2)
		other = strings.Replace(other, "A-77", "B-"+missing[:3], 1)
		other = strings.Replace(other, ">12.00<", ">11.99<", 1)
		captured, err := give(other)
		require.NoError(t, err)
		require.Equal(t, trade.Held, captured.State)
		require.Contains(t, captured.Summary, missing)
	}
	for _, bad := range []string{"", "no xml", "<a/>", strings.Replace(text, ">10<", ">1.0000001<", 1), strings.Replace(text, "EUR</cbc:Doc", "XYZ</cbc:Doc", 1)} {
		_, err := give(bad)
		require.Error(t, err)
		require.True(t, fault.Is(err, fault.Invalid), "%v", err)
	}
	b.proved()
	require.Equal(t, ledger.Role("grni"), ledger.GRNI)
}
