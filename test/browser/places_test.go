package browser

import (
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/store"
)

// TestPlacesAreAList: an administrator writes a place and who receives there; an order and its delivery choose it, or another this once.
func TestPlacesAreAList(t *testing.T) {
	t.Parallel()
	h := open(t)
	admin := sit(t, h)
	admin.refusing(422)
	admin.signIn("rhea")
	admin.open("/setup/company")
	admin.until("(e => e && (e.click(), true))([...document.querySelectorAll('h2 button')].find(b => b.innerText.includes('Add a place')))", "Add a place")
	admin.main()
	admin.seeIn(".ask", "Give the place a name.")
	admin.fill("#place-name", "Quay 4")
	admin.fill("#place-address", "Fish quay, Skerry Point")
	admin.click("Lewis Marr")
	admin.accessible()
	admin.main()
	admin.seeIn(".notice", "Quay 4 is on the list of places.")
	admin.accessible()

	buyer := sit(t, h)
	buyer.signIn("ivo")
	buyer.open("/orders/4186/change")
	buyer.until("document.querySelector('#order-place')?.value === 'Silo'", "where it goes")
	buyer.fill("#order-place", "qua\r")
	buyer.until("document.querySelector('#order-place').value === 'Quay 4'", "the new place")
	buyer.fill("#order-place", "The beach\r")
	buyer.until("document.querySelector('#order-place-said').innerText === 'elsewhere, this once'", "what stands on no list")
	buyer.accessible()

	receiver := sit(t, h)
	receiver.signIn("lewis")
	receiver.open("/receiving/4186")
	receiver.until("document.querySelector('#delivery-place')?.value === 'Silo'", "where the order sends it")
	receiver.fill("#delivery-place", "At the gate")
	receiver.fill("#delivery-note", "HS 990")
	receiver.main()
	receiver.seeIn(".notice", "is booked")
	receiver.seeIn(".sheet", "At the gate")
}

// TestSelectionsOfARunAreKept: what invoices we write of is kept under a name, chosen by it, and kept no longer.
func TestSelectionsOfARunAreKept(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("nora")
	d.open("/invoices/self-billing")
	d.until("[...document.querySelectorAll('#self-kept option')].length === 2", "what is kept")
	d.pick("#self-kept", "Cold store only")
	d.until("document.querySelector('#self-place').value === 'Cold store'", "it fills the fields")
	d.pick("#self-place", "Shop")
	d.click("Keep this selection")
	d.fill("#self-name", "For the shop")
	d.accessible()
	d.main()
	d.seeIn(".notice", "kept as “For the shop”")
	d.until("document.querySelector('#self-kept').value === 'For the shop'", "it is chosen")
	d.click("Keep it no longer")
	d.seeIn(".notice", "“For the shop” is kept no longer.")
}

// TestThePayeeOfOneInvoice: another is paid for one invoice once somebody else has checked it.
func TestThePayeeOfOneInvoice(t *testing.T) {
	t.Parallel()
	h := open(t)
	bill := invoiceOf(t, h, "SP-8251")
	clerk := sit(t, h)
	clerk.refusing(422)
	clerk.signIn("nora")
	clerk.open("/invoices/" + fmtOrder(bill.Number))
	clerk.click("Another payee…")
	clerk.main()
	clerk.seeIn(".ask", "Say in a note why.")
	clerk.fill("#payee", "OSTRE\r")
	clerk.fill("#payee-note", "assigned to them")
	clerk.accessible()
	clerk.main()
	clerk.seeIn(".notice", "once somebody else has confirmed it")
	clerk.seeIn(".sheet", "Nothing is paid until another person than Nora Ferrow confirms it.")
	clerk.accessible()

	second := sit(t, h)
	second.signIn("tomas")
	second.open("/invoices/" + fmtOrder(bill.Number))
	second.click("Confirm it")
	second.fill("#payee-checked", "called them")
	second.main()
	second.seeIn(".notice", "Ostrea Filtration is paid for invoice")
	second.seeIn(".sheet", "Tomas Breck checked it: called them")
	own := ask(t, h, func(tx *store.Tx) (string, error) {
		id, err := tx.InvoiceID(bill.Number)
		if err != nil {
			return "", err
		}
		own, err := tx.PayeeOf(id)
		return own.Code + " " + own.ConfirmedName, err
	})
	require.Equal(t, "OSTRE Tomas Breck", own)
}

// TestTheDemosBankIsSet: a treasurer ticks how the stand-in bank behaves; nobody else sees it.
func TestTheDemosBankIsSet(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("tomas")
	d.open("/payments/bank")
	d.click("charges a fee of 1.50 for a file")
	d.seeIn(".notice", "behaves so from its next file on")
	d.open("/payments/bank")
	d.until("[...document.querySelectorAll('section[aria-label^=\"The demo\"] input')].filter(i => i.checked).length === 1", "it is kept")
	d.accessible()
	other := sit(t, h)
	other.signIn("ada")
	other.open("/payments/bank")
	other.seeIn("h1", "The bank")
	other.gone(".sheet", "The demo’s bank")
}

// TestEachIsMailedTheirs: an address is written, and a kept list goes to each colleague with theirs.
func TestEachIsMailedTheirs(t *testing.T) {
	t.Parallel()
	h := open(t)
	admin := sit(t, h)
	admin.refusing(422)
	admin.signIn("rhea")
	admin.open("/setup/people")
	admin.until("(e => e && (e.click(), true))(document.querySelector('[aria-label=\"Mail… of Maren Tolk\"]'))", "Mail of Maren Tolk")
	admin.fill("#mail-maren", "maren")
	admin.main()
	admin.seeIn("#mail-maren-said", "is no mail address")
	admin.fill("#mail-maren", "maren@skerry.example")
	admin.main()
	admin.seeIn(".notice", "Maren Tolk is written to at maren@skerry.example.")
	admin.seeIn(".grid", "maren@skerry.example")
	admin.accessible()

	lead := sit(t, h)
	lead.signIn("ivo")
	lead.open("/lookup/lists/waiting?show=mine")
	lead.click("Keep")
	lead.fill("#keep-name", "Waiting, each their own")
	lead.click("For all, not only for me")
	lead.click("Mail each colleague what is theirs of it")
	lead.accessible()
	lead.main()
	lead.seeIn(".notice", "is kept for all")
	require.Equal(t, "each", ask(t, h, func(tx *store.Tx) (string, error) {
		all, err := tx.KeptLists(0)
		for _, k := range all {
			if k.Name == "Waiting, each their own" {
				return k.WeeklyTo, err
			}
		}
		return "", err
	}))
}

// pick chooses of a list by what is sent.
func (d *desk) pick(selector, value string) {
	d.until("(e => e && (e.value = '"+value+"', e.dispatchEvent(new Event('change', {bubbles: true})), true))(document.querySelector('"+selector+"'))", "choosing "+value)
}

// TestRunsLeaveAnAccountThatIsNamed: an administrator writes a further account of ours, and a run that leaves it is proposed.
func TestRunsLeaveAnAccountThatIsNamed(t *testing.T) {
	t.Parallel()
	h := open(t)
	admin := sit(t, h)
	admin.refusing(422)
	admin.signIn("rhea")
	admin.open("/setup/company")
	admin.until("(e => e && (e.click(), true))([...document.querySelectorAll('h2 button')].find(b => b.innerText.includes('Add an account')))", "Add an account")
	admin.fill("#debit-iban", "DE00")
	admin.fill("#debit-name", "At the quay")
	admin.main()
	admin.seeIn(".ask", "This is no account number")
	admin.fill("#debit-iban", "DE89 3704 0044 0532 0130 00")
	admin.accessible()
	admin.main()
	admin.seeIn(".notice", "Runs may leave At the quay.")

	clerk := sit(t, h)
	clerk.signIn("nora")
	clerk.open("/payments/proposed-run")
	clerk.until("[...document.querySelectorAll('#run-from option')].some(o => o.text.startsWith('At the quay'))", "the account")
	clerk.pick("#run-from", "DE89370400440532013000")
	clerk.accessible()
	clerk.main()
	clerk.seeIn(".notice", "is made")
	clerk.seeIn(".facts", "DE89370400440532013000")
}

// TestTheBooksAreProvedOnThePage: whoever closes a month has the books proved there, and sees what came of it and when.
func TestTheBooksAreProvedOnThePage(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("tomas")
	d.open("/lookup/month-end")
	d.seeIn(".steps", "not proved since Lagoon was started")
	d.until("(e => e && (e.click(), true))([...document.querySelectorAll('.steps button')].find(b => b.innerText.trim() === 'prove'))", "prove")
	d.seeIn(".steps", "the documents and the books said the same")
	d.accessible()
	clerk := sit(t, h)
	clerk.signIn("nora")
	clerk.open("/lookup/month-end")
	clerk.seeIn(".steps", "Bank reconciled")
	clerk.gone(".steps", "The books prove themselves")
}
