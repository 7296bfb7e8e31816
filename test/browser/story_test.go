package browser

import (
	"context"
	"fmt"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/trade"
	"lagoon/internal/store"
)

// ask reads from the house's data.
func ask[T any](t testing.TB, h place, do func(*store.Tx) (T, error)) T {
	t.Helper()
	var result T
	require.NoError(t, h.store.Read(context.Background(), func(tx *store.Tx) (err error) {
		result, err = do(tx)
		return err
	}))
	return result
}

// orderOf is the number of the order that a delivery note was booked on.
func orderOf(t testing.TB, h place, note string) int64 {
	return ask(t, h, func(tx *store.Tx) (int64, error) {
		rows, err := tx.RecentOrders(0, 60)
		for _, r := range rows {
			order, e := tx.OrderByNumber(r.Number, store.AllReserved)
			if e != nil {
				return 0, e
			}
			deliveries, e := tx.Deliveries(order.ID)
			if e != nil {
				return 0, e
			}
			for _, d := range deliveries {
				if d.Note == note {
					return r.Number, nil
				}
			}
		}
		return 0, err
	})
}

// invoiceOf is the state and Lagoon's number of the invoice with a supplier's number.
func invoiceOf(t testing.TB, h place, number string) store.InvoiceRow {
	rows := ask(t, h, func(tx *store.Tx) ([]store.InvoiceRow, error) { return tx.RecentInvoices(0, 200) })
	for _, r := range rows {
		if r.SupplierNumber == number {
			return r
		}
	}
	t.Fatalf("there is no invoice %s", number)
	return store.InvoiceRow{}
}

// TestStory plays the whole job by keyboard, from an order to the bank's answer.
func TestStory(t *testing.T) {
	t.Parallel()
	h := open(t)
	order := orderOf(t, h, "DN 5438")

	// An e-invoice comes before its goods: it waits and says for what.
	clerk := sit(t, h)
	clerk.throughTheDoor("nora")
	clerk.seeIn(".stages", "Receiving")
	clerk.give("input[type=file]", "2-before-the-goods.xml")
	clerk.seeIn(".notice", "waits for goods and moves on by itself")
	clerk.seeIn("h1", "BF-20431")
	clerk.seeIn(".finding", "44 cartons more invoiced than received")
	require.Equal(t, trade.Waiting, invoiceOf(t, h, "BF-20431").State)

	// The order is found by its number, and read.
	receiver := sit(t, h)
	receiver.signIn("lewis")
	receiver.until("location.pathname === '/receiving'", "the first stage where it is the receiver's turn")
	receiver.letter("/")
	receiver.focus("#find-text")
	receiver.keys(fmt.Sprint(order))
	receiver.seeIn("#find-list", "Brackwater Feeds")
	receiver.keys(kb.Enter)
	receiver.seeIn("h1", fmt.Sprint(order))
	receiver.seeIn(".thread", "Delivery DN 5438")
	receiver.seeIn(".thread", "Goods expected")
	receiver.seeIn("table", "Capelin, loose")
	receiver.until(`document.querySelectorAll("svg[role=img][aria-label*='kg: ordered 250,']").length > 0`, "a gauge with its text")

	// The delivery: one line over within its limit, one closed short past its limit.
	receiver.open("/receiving")
	receiver.focus("#receive-order")
	receiver.keys(fmt.Sprint(order), kb.Enter)
	receiver.until("document.activeElement.id === 'delivery-note'", "the note has the focus")
	receiver.keys("DN 5512", kb.Enter, kb.Enter, kb.Enter) // note, day, place
	receiver.until("document.activeElement.id === 'now-1'", "Enter leads to the first quantity")
	receiver.keys("44", kb.Enter, "187.5")
	receiver.alt("c") // no more to come on this line
	receiver.seeIn(".finding", "4 cartons over the order is 4 %; 5 % is allowed by the company.")
	receiver.seeIn(".finding", "62.5 kg short is 25 %; 10 % is allowed on this item.")
	receiver.seeIn(".finding", "At least 225 kg must come now to close the line")
	receiver.refusing(422)
	receiver.main()
	receiver.until("document.activeElement.id === 'now-2'", "the refusal moves the focus to its field")
	require.Equal(t, "187.5", receiver.value("#now-2"), "nothing typed is lost")
	receiver.fill("#now-2", "237.5")
	receiver.gone(".finding", "25 %")
	receiver.main()
	receiver.seeIn(".notice", "is booked: 2,663.35 to goods received")
	receiver.seeIn(".thread", "Delivery DN 5512")
	receiver.click("Ledger entry")
	receiver.see("Goods received, not invoiced")
	receiver.seeIn("table", "1,689.60")

	// The invoice that waited has verified itself.
	clerk.seeIn("h1 + .verdict", "Verified")
	verified := invoiceOf(t, h, "BF-20431")
	require.Equal(t, trade.Verified, verified.State)

	// One that agrees is verified with no act of anyone; the same again names the first.
	clerk.give("input[type=file]", "1-agrees.xml")
	clerk.seeIn(".notice", "agrees and is verified")
	first := invoiceOf(t, h, "OF-3420")
	require.Equal(t, trade.Verified, first.State)
	clerk.give("input[type=file]", "1-agrees.xml")
	clerk.seeIn(".notice", fmt.Sprintf("is here already: it is Lagoon's invoice %d", first.Number))

	// One with a price past its limit and more invoiced than received is held; this one is dropped on the page.
	clerk.drop("3-price-and-quantity.xml")
	clerk.seeIn(".notice", "is held")
	held := invoiceOf(t, h, "BF-20440")
	clerk.seeIn(".finding", "Capelin, loose: 10 kg more invoiced than received. 200 − 190 = 10, 41.00 EUR.")
	clerk.seeIn(".finding", "Vitamin premix: 2.00 above the order's price. 63.00 against 61.00 is +3.28 %; 2 % is allowed for this supplier.")
	clerk.letter("1")
	clerk.seeIn(".finding", "Accepting a difference takes the role approver.") // a clerk does not accept
	clerk.keys(kb.Escape)

	// A person with the authority accepts, with a note.
	approver := sit(t, h)
	approver.signIn("ada")
	approver.open(fmt.Sprintf("/holds/%d", held.Number))
	approver.seeIn("h1", "BF-20440")
	approver.letter("1")
	approver.seeIn(".ask", "Books 10 kg more than was received")
	approver.refusing(422)
	approver.main()
	approver.seeIn(".ask", "Say in a note why")
	approver.focus(".ask input[type=text]")
	approver.keys("agreed by telephone")
	approver.main()
	approver.seeIn(".notice", "The difference is accepted")
	approver.letter("1")
	approver.focus(".ask input[type=text]")
	approver.keys("price of the new catch")
	approver.main()
	approver.see("is verified")
	require.Equal(t, trade.Verified, invoiceOf(t, h, "BF-20440").State)

	// A payment hold is put on an invoice, and taken off.
	clerk.open(fmt.Sprintf("/invoices/%d", first.Number))
	clerk.seeIn("h1", "OF-3420")
	clerk.letter("h")
	clerk.focus("#hold")
	clerk.keys("the lamps are being tested", kb.Enter)
	clerk.seeIn(".finding", "On hold")
	clerk.open("/holds")
	clerk.seeIn("table", "the lamps are being tested")
	clerk.open(fmt.Sprintf("/holds/%d", first.Number))
	clerk.seeIn(".bar", "Take hold off")
	clerk.letter("h")
	clerk.focus("#lift")
	clerk.keys("they work", kb.Enter)
	clerk.gone(".finding", "On hold")

	// Verified invoices are released, many at once.
	clerk.open("/payments")
	clerk.see("BF-20440")
	clerk.letter("a")
	clerk.seeIn(".bar", "Release 13") // four of them she keyed or wrote herself
	clerk.main()
	clerk.seeIn(".notice", "9 released for payment")

	// A run proposes what is due by a date; its maker cannot approve it.
	clerk.letter("n")
	clerk.see("Propose a payment run")
	clerk.fill("#due-by", "31.1.2027")
	clerk.seeIn(".sheet table", "BF-20440")
	clerk.main()
	clerk.seeIn(".notice", "A second person approves it")
	run := ask(t, h, func(tx *store.Tx) ([]store.Run, error) { return tx.Runs() })[0].Number
	clerk.seeIn(".bar", "somebody else approves it")

	treasurer := sit(t, h)
	treasurer.signIn("tomas")
	treasurer.open(fmt.Sprintf("/payments/runs/%d", run))
	treasurer.ready("Approve")
	treasurer.main()
	treasurer.seeIn(".notice", "its invoices are in payment")
	require.Equal(t, trade.InPayment, invoiceOf(t, h, "BF-20440").State)
	treasurer.ready("Send to the bank")
	treasurer.main()
	treasurer.seeIn(".notice", "is sent to the bank")
	treasurer.ready("Fetch the bank’s answer")
	treasurer.main()
	treasurer.seeIn(".notice", "The bank answered")
	treasurer.seeIn("table", "paid")
	for _, number := range []string{"BF-20440", "BF-20431", "OF-3420"} {
		require.Equal(t, trade.Paid, invoiceOf(t, h, number).State, number)
	}
	require.Equal(t, trade.Released, invoiceOf(t, h, "PC-1007").State, "the bank rejects a closed account, and the invoice is open again")
}

// TestKeyedInvoice keys an invoice against an order by keyboard.
func TestKeyedInvoice(t *testing.T) {
	t.Parallel()
	h := open(t)
	clerk := sit(t, h)
	clerk.refusing(404)
	clerk.signIn("nora")
	clerk.see("Your turn")
	clerk.letter("k")
	clerk.focus("#invoice-order")
	clerk.keys("x", kb.Enter)
	clerk.see("There is no order, delivery note, item or supplier “x”")
	clerk.fill("#invoice-order", fmt.Sprint(orderOf(t, h, "DN 5509")))
	clerk.keys(kb.Enter)
	clerk.seeIn("table", "Squid rings")
	clerk.fill("#invoice-number", "bf 20377")
	clerk.seeIn(".finding", "An invoice of this number is here already")
	clerk.fill("#invoice-number", "BF-20452")
	clerk.gone(".finding", "is here already")
	clerk.fill("#invoice-date", "20.11.2026")
	clerk.fill("#invoice-total", "1900")
	clerk.seeIn(".finding", "The invoice states a total of 1,900.00 EUR; its lines, charges and tax add up to 1,917.00.")
	clerk.reload()
	clerk.see("and not booked: BF-20452, order")
	require.Equal(t, "BF-20452", clerk.value("#invoice-number"))
	clerk.click("Begin anew")
	clerk.until("document.querySelector('#invoice-number')?.value === '' && document.activeElement.id === 'invoice-order'", "nothing of what was typed")
	clerk.keys(fmt.Sprint(orderOf(t, h, "DN 5509")), kb.Enter)
	clerk.seeIn("table", "Squid rings")
	clerk.fill("#invoice-number", "BF-20452")
	clerk.fill("#invoice-date", "20.11.2026")
	clerk.fill("#invoice-total", "40*38.4+60*6.35")
	clerk.see("= 1,917")
	clerk.see("Everything agrees")
	clerk.main()
	clerk.seeIn(".notice", "agrees and is verified")
	row := invoiceOf(t, h, "BF-20452")
	require.Equal(t, trade.Verified, row.State)

	// Nobody releases their own entry.
	clerk.open("/payments")
	clerk.see("BF-20452")
	clerk.eval("document.querySelector('[aria-label=\"Release BF-20452 of Brackwater Feeds\"]').click()")
	clerk.main()
	clerk.see("The entry of invoice")
	require.Equal(t, trade.Verified, invoiceOf(t, h, "BF-20452").State)
}

// TestBadFiles gives files that cannot be read, or not be matched.
func TestBadFiles(t *testing.T) {
	t.Parallel()
	h := open(t)
	clerk := sit(t, h)
	clerk.refusing(404)
	clerk.refusing(422)
	clerk.signIn("nora")
	clerk.see("Your turn")
	clerk.give("input[type=file]", "4-unknown-order.xml", "5-does-not-add-up.xml", "6-not-an-invoice.xml", "7-not-xml.xml", "1-agrees.xml")
	clerk.seeIn("table", "it starts with “greeting”")
	clerk.seeIn("table", "It is plain text and no e-invoice.")
	clerk.seeIn("table", "agrees and is verified")
	require.Equal(t, trade.Held, invoiceOf(t, h, "OF-3421").State, "kept with what is missing")
	wrong := invoiceOf(t, h, "77-0201")
	require.Equal(t, trade.Held, wrong.State)
	clerk.open(fmt.Sprintf("/invoices/%d", wrong.Number))
	clerk.seeIn(".finding", "This can be corrected but not accepted")

	// What is missing is entered, and the invoice goes on.
	unknown := invoiceOf(t, h, "OF-3421")
	clerk.open(fmt.Sprintf("/invoices/%d", unknown.Number))
	clerk.seeIn(".finding", "The invoice names the order “9999”")
	clerk.letter("c")
	clerk.focus("#invoice-order")
	clerk.fill("#invoice-order", fmt.Sprint(orderOf(t, h, "LS 88120")))
	clerk.keys(kb.Enter)
	clerk.until("document.querySelectorAll('td select')[0].options.length > 2", "the order's lines are offered")
	clerk.eval("s = document.querySelector('td select'); s.value = '1'; s.selectedIndex = 1; s.dispatchEvent(new Event('change', {bubbles: true}))")
	clerk.fill("#correct-reason", "they wrote a wrong order number")
	clerk.see("more invoiced than received")
	clerk.main()
	clerk.seeIn(".notice", "is held: quantity")
	clerk.seeIn(".finding", "5 bags more invoiced than received")
}

// TestRefusals: what a person may not do is said beside its field, and nothing is lost.
func TestRefusals(t *testing.T) {
	t.Parallel()
	h := open(t)
	order := orderOf(t, h, "DN 5438")
	receiver := sit(t, h)
	receiver.signIn("lewis")
	receiver.refusing(422)
	receiver.refusing(409)
	receiver.open(fmt.Sprintf("/receiving/%d", order))
	receiver.fill("#now-1", "1.0000001")
	receiver.see("Not a number of at most six places")
	receiver.fill("#now-1", "-3")
	receiver.fill("#delivery-note", "DN 1")
	receiver.see("A delivered quantity cannot be below zero")
	receiver.main()
	receiver.until("document.activeElement.id === 'now-1'", "the focus moves to the quantity")
	receiver.fill("#now-1", "50")
	receiver.seeIn(".finding", "At most 45 cartons can be booked now")
	receiver.focus("#now-1")
	receiver.alt("l")
	receiver.refuses("5")
	receiver.fill("#delivery-day", "1.12.2026")
	receiver.main()
	receiver.see("The day of arrival is in the future")
	receiver.fill("#delivery-day", "23.11")
	receiver.fill("#delivery-note", "dn-5438")
	receiver.main()
	receiver.see("If this is a second part of it, say so")
	require.Equal(t, "45", receiver.value("#now-1"))
	receiver.eval("document.querySelector('#second-part').click()")
	receiver.main()
	receiver.seeIn(".notice", "is booked")
	receiver.seeIn(".bar", "Undo this booking")
	receiver.letter("u")
	receiver.focus("#reverse")
	receiver.keys("counted the wrong pallet", kb.Enter)
	receiver.seeIn(".notice", "is undone by")
	receiver.seeIn("table", "45")
}

// TestKeysOnly: plain letters never fire while someone types, Alt+letter does, Esc leaves the field.
func TestKeysOnly(t *testing.T) {
	t.Parallel()
	h := open(t)
	clerk := sit(t, h)
	clerk.signIn("nora")
	clerk.see("Fernhollow Print")
	clerk.keys(kb.ArrowDown)
	clerk.until("document.activeElement.classList.contains('slip')", "an arrow moves into the pile")
	clerk.keys(kb.ArrowDown, kb.Enter)
	clerk.until("location.pathname.startsWith('/invoices/1')", "Enter opens the slip")
	clerk.letter("?")
	clerk.seeIn(".modal.show", "next slip")
	clerk.keys(kb.Escape)
	clerk.until("!document.querySelector('.modal.show')", "Esc closes the keys")
	clerk.open("/invoices/key")
	clerk.focus("#invoice-number")
	clerk.keys("khf/")
	require.Equal(t, "khf/", clerk.value("#invoice-number"), "letters are typed, not done")
	clerk.keys(kb.Escape)
	clerk.until("document.activeElement === document.body", "Esc leaves the field")
	clerk.letter("]")
	clerk.until("location.pathname === '/holds'", "the next stage of the course")
}

// TestReader: a reader sees, and is offered nothing to do.
func TestReader(t *testing.T) {
	t.Parallel()
	h := open(t)
	reader := sit(t, h)
	reader.signIn("ola")
	reader.see("Your turn")
	reader.open(fmt.Sprintf("/invoices/%d", invoiceOf(t, h, "BF-20418").Number))
	reader.see("Held: 2 differences")
	reader.gone(".bar", "Correct")
	reader.gone(".bar", "Hold")
	reader.open("/setup/people")
	reader.see("Adding people takes the role administrator")
}

// TestFirstAdministrator: an empty Lagoon asks for its first administrator and shows nobody.
const foundingCode = "abcd-efgh"

func TestFirstAdministrator(t *testing.T) {
	t.Parallel()
	h := serve(t, t.TempDir(), "")
	first := sit(t, h)
	first.refusing(422)
	first.open("/")
	first.see("Set up Lagoon")
	first.fill("#first-code", "a guess")
	first.fill("#first-company", "Gannet Rock Trust")
	first.fill("#first-zone", "Europe/Dublin")
	first.fill("#first-iban", "IE00 NOPE 1234")
	first.fill("#first-name", "Mara Flint")
	first.fill("#first-login", "mara")
	first.fill("#first-password", "short")
	first.keys(kb.Enter)
	first.see("This is not the code that Lagoon printed")
	first.fill("#first-code", foundingCode)
	first.keys(kb.Enter)
	first.see("A password needs at least twelve characters")
	first.fill("#first-password", "long enough now")
	first.keys(kb.Enter)
	first.see("its check digits do not fit")
	first.fill("#first-iban", " ")
	first.keys(kb.Enter)
	first.see("Nothing needs you")
	first.open("/setup/people")
	first.fill("#person-name", "Kit Sand")
	first.fill("#person-login", "kit")
	first.fill("#person-password", "another long one")
	first.click("receiver")
	first.main()
	first.seeIn(".notice", "Kit Sand can sign in as kit")
	for path, says := range map[string]string{"/orders": "No order is issued yet.", "/receiving": "Nothing is expected.", "/setup/items": "No item is known yet.", "/setup/suppliers": "No supplier is known yet.", "/setup/books": "None yet. Every order line is charged to one.",
		"/orders/planned": "Nothing is planned.", "/orders/reminders": "Nothing is so late that it is chased.", "/orders/closing": "No open line fits."} {
		first.open(path)
		first.see(says)
	}
	first.click("sign out")
	first.see("Sign in")
	require.NotContains(t, first.text("body"), "Who would you like to be?")
}
