package browser

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// TestStory plays the whole job by keyboard, from an order to the bank's answer.
func TestStory(t *testing.T) {
	t.Parallel()
	h := Open(t)
	order := OrderOf(t, h, "DN 5438")

	// An e-invoice comes before its goods: it waits and says for what.
	clerk := Sit(t, h)
	clerk.ThroughTheDoor("nora")
	clerk.SeeIn(".stages", "Receiving")
	clerk.Give("input[type=file]", "2-before-the-goods.xml")
	clerk.SeeIn(".notice", "waits for goods and moves on by itself")
	clerk.SeeIn("h1", "BF-20431")
	clerk.SeeIn(".finding", "44 cartons more invoiced than received")
	require.Equal(t, trade.Waiting, InvoiceOf(t, h, "BF-20431").State)

	// The order is found by its number, and read.
	receiver := Sit(t, h)
	receiver.SignIn("lewis", "/")
	receiver.Until("location.pathname === '/receiving'", "the first stage where it is the receiver's turn")
	receiver.Letter("/")
	receiver.Focus("#find-text")
	receiver.Keys(fmt.Sprint(order))
	receiver.SeeIn("#find-list", "Brackwater Feeds")
	receiver.Keys(kb.Enter)
	receiver.SeeIn("h1", fmt.Sprint(order))
	receiver.SeeIn(".thread", "Delivery DN 5438")
	receiver.SeeIn(".thread", "Goods expected")
	receiver.SeeIn("table", "Capelin, loose")
	receiver.Until(`document.querySelectorAll("svg[role=img][aria-label*='kg: ordered 250,']").length > 0`, "a gauge with its text")

	// The delivery: one line over within its limit, one closed short past its limit.
	receiver.Open("/receiving")
	receiver.Focus("#receive-order")
	receiver.Keys(fmt.Sprint(order), kb.Enter)
	receiver.Until("document.activeElement.id === 'delivery-note'", "the note has the focus")
	receiver.Keys("DN 5512", kb.Enter, kb.Enter, kb.Enter) // note, day, place
	receiver.Until("document.activeElement.id === 'now-1'", "Enter leads to the first quantity")
	receiver.Keys("44", kb.Enter, "187.5")
	receiver.Alt("c") // no more to come on this line
	receiver.SeeIn(".finding", "4 cartons over the order is 4 %; 5 % is allowed by the company.")
	receiver.SeeIn(".finding", "62.5 kg short is 25 %; 10 % is allowed on this item.")
	receiver.SeeIn(".finding", "At least 225 kg must come now to close the line")
	receiver.Refusing(422)
	receiver.Main()
	receiver.Until("document.activeElement.id === 'now-2'", "the refusal moves the focus to its field")
	require.Equal(t, "187.5", receiver.Value("#now-2"), "nothing typed is lost")
	receiver.Fill("#now-2", "237.5")
	receiver.Gone(".finding", "25 %")
	receiver.Main()
	receiver.SeeIn(".notice", "is booked: 2,663.35 to goods received")
	receiver.SeeIn(".thread", "Delivery DN 5512")
	receiver.Click("Ledger entry")
	receiver.See("Goods received, not invoiced")
	receiver.SeeIn("table", "1,689.60")

	// The invoice that waited has verified itself.
	clerk.SeeIn("h1 + .verdict", "Verified")
	verified := InvoiceOf(t, h, "BF-20431")
	require.Equal(t, trade.Verified, verified.State)

	// One that agrees is verified with no act of anyone; the same again names the first.
	clerk.Give("input[type=file]", "1-agrees.xml")
	clerk.SeeIn(".notice", "agrees and is verified")
	first := InvoiceOf(t, h, "OF-3420")
	require.Equal(t, trade.Verified, first.State)
	clerk.Give("input[type=file]", "1-agrees.xml")
	clerk.SeeIn(".notice", fmt.Sprintf("is here already: it is Lagoon's invoice %d", first.Number))

	// One with a price past its limit and more invoiced than received is held; this one is dropped on the page.
	clerk.Drop("3-price-and-quantity.xml")
	clerk.SeeIn(".notice", "is held")
	held := InvoiceOf(t, h, "BF-20440")
	clerk.SeeIn(".finding", "Capelin, loose: 10 kg more invoiced than received. 200 − 190 = 10, 41.00 EUR.")
	clerk.SeeIn(".finding", "Vitamin premix: 2.00 above the order's price. 63.00 against 61.00 is +3.28 %; 2 % is allowed for this supplier.")
	clerk.Letter("1")
	clerk.SeeIn(".finding", "Accepting a difference takes the role approver.") // a clerk does not accept
	clerk.Keys(kb.Escape)

	// A person with the authority accepts, with a note.
	approver := Sit(t, h)
	approver.SignIn("ada", fmt.Sprintf("/holds/%d", held.Number))
	approver.SeeIn("h1", "BF-20440")
	approver.Letter("1")
	approver.SeeIn(".ask", "Books 10 kg more than was received")
	approver.Refusing(422)
	approver.Main()
	approver.SeeIn(".ask", "Say in a note why")
	approver.Focus(".ask input[type=text]")
	approver.Keys("agreed by telephone")
	approver.Main()
	approver.SeeIn(".notice", "The difference is accepted")
	approver.Letter("1")
	approver.Focus(".ask input[type=text]")
	approver.Keys("price of the new catch")
	approver.Main()
	approver.See("is verified")
	require.Equal(t, trade.Verified, InvoiceOf(t, h, "BF-20440").State)

	// Verified invoices are released, many at once.
	clerk.Open("/payments")
	clerk.See("BF-20440")
	clerk.Letter("a")
	clerk.SeeIn(".bar", "Release 13") // four of them she keyed or wrote herself
	clerk.Main()
	clerk.SeeIn(".notice", "9 released for payment")

	// A run proposes what is due by a date; its maker cannot approve it.
	clerk.Letter("n")
	clerk.See("Propose a payment run")
	clerk.Fill("#due-by", "31.1.2027")
	clerk.SeeIn(".sheet table", "BF-20440")
	clerk.Main()
	clerk.SeeIn(".notice", "A second person approves it")
	run := Ask(t, h, func(tx *store.Tx) ([]store.Run, error) { return tx.Runs() })[0].Number
	clerk.SeeIn(".bar", "somebody else approves it")

	treasurer := Sit(t, h)
	treasurer.SignIn("tomas", fmt.Sprintf("/payments/runs/%d", run))
	treasurer.Ready("Approve")
	treasurer.Main()
	treasurer.SeeIn(".notice", "its invoices are in payment")
	require.Equal(t, trade.InPayment, InvoiceOf(t, h, "BF-20440").State)
	treasurer.Ready("Send to the bank")
	treasurer.Main()
	treasurer.SeeIn(".notice", "is sent to the bank")
	treasurer.Ready("Fetch the bank’s answer")
	treasurer.Main()
	treasurer.SeeIn(".notice", "The bank answered")
	treasurer.SeeIn("table", "paid")
	for _, number := range []string{"BF-20440", "BF-20431", "OF-3420"} {
		require.Equal(t, trade.Paid, InvoiceOf(t, h, number).State, number)
	}
	require.Equal(t, trade.Released, InvoiceOf(t, h, "PC-1007").State, "the bank rejects a closed account, and the invoice is open again")
}

// TestKeysOnly: plain letters never fire while someone types, Alt+letter does, Esc leaves the field.
func TestKeysOnly(t *testing.T) {
	t.Parallel()
	h := Open(t)
	clerk := Sit(t, h)
	clerk.SignIn("nora", "/")
	clerk.See("Fernhollow Print")
	clerk.Keys(kb.ArrowDown)
	clerk.Until("document.activeElement.classList.contains('slip')", "an arrow moves into the pile")
	clerk.Keys(kb.ArrowDown, kb.Enter)
	clerk.Until("location.pathname.startsWith('/invoices/1')", "Enter opens the slip")
	clerk.Letter("?")
	clerk.SeeIn(".modal.show", "next slip")
	clerk.Keys(kb.Escape)
	clerk.Until("!document.querySelector('.modal.show')", "Esc closes the keys")
	clerk.Open("/invoices")
	clerk.Focus("#key-order")
	clerk.Keys("12/")
	require.Equal(t, "12/", clerk.Value("#key-order"))
	clerk.Fill("#key-order", " ")
	clerk.Keys(kb.Backspace, "/")
	clerk.Until("document.activeElement.id === 'find-text'", "a slash in the empty field of a pile leads to Find")
	clerk.Keys(kb.Escape)
	clerk.Open("/invoices/key")
	clerk.Focus("#invoice-number")
	clerk.Keys("khf/")
	require.Equal(t, "khf/", clerk.Value("#invoice-number"), "letters are typed, not done")
	clerk.Keys(kb.Escape)
	clerk.Until("document.activeElement === document.body", "Esc leaves the field")
	clerk.Letter("]")
	clerk.Until("location.pathname === '/holds'", "the next stage of the course")
}

// TestReader: a reader sees, and is offered nothing to do.
func TestReader(t *testing.T) {
	t.Parallel()
	h := Open(t)
	reader := Sit(t, h)
	reader.SignIn("ola", "/")
	reader.See("Your turn")
	reader.Open(fmt.Sprintf("/invoices/%d", InvoiceOf(t, h, "BF-20418").Number))
	reader.See("Held: 2 differences")
	reader.Gone(".bar", "Correct")
	reader.Gone(".bar", "Hold")
	reader.Open("/setup/people")
	reader.See("Adding people takes the role administrator")
}
