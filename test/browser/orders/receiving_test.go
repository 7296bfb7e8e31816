package orders

import (
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"lagoon/internal/demo"
	"lagoon/internal/jobs/people"
	"lagoon/internal/store"
	"lagoon/test/browser"
)

// openLine is the newest open order line of an item at a supplier.
func openLine(t testing.TB, h browser.Place, supplier, item string) store.OpenLine {
	t.Helper()
	lines := browser.Ask(t, h, func(tx *store.Tx) ([]store.OpenLine, error) {
		return tx.OpenLines(store.LineFilter{Supplier: supplier, Item: item})
	})
	require.NotEmpty(t, lines)
	newest := lines[0] // of those of which nothing came yet, where there are any
	for _, l := range lines {
		whole := l.Rest == l.Quantity
		if was := newest.Rest == newest.Quantity; whole && !was || whole == was && l.Order > newest.Order {
			newest = l
		}
	}
	return newest
}

// atTheDoor puts a person before the field of Receiving.
func atTheDoor(d *browser.Desk) {
	d.Open("/receiving")
	d.Until("document.activeElement.id === 'receive-order' && document.querySelector('.pile .slip')", "the field")
}

// TestAnnouncedGoods: a notice is read from a despatch advice or entered, and the delivery starts from it; one that was
// entered wrongly is taken back, and so is a count at the door.
func TestAnnouncedGoods(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("lewis", "/")
	atTheDoor(d)
	d.Give("#read-advice", "8-despatch-advice.xml")
	d.SeeIn(".notice", "A notice is read.")
	d.Click("Start from notice")
	d.See("Started from notice BW-DA-771")
	d.Until("document.activeElement.id === 'now-1'", "the first quantity")
	require.Equal(t, "60", d.Value("#now-1"))
	require.Equal(t, "250", d.Value("#now-2"), "20 cartons of 12.5 kg")
	d.Fill("#delivery-note", "DN 6001")
	d.Main()
	d.SeeIn(".notice", "is booked")

	sand := openLine(t, h, "OSTRE", "SAND").Order
	d.Open("/orders/" + fmt.Sprint(sand))
	d.See("Filter sand")
	d.Letter("a")
	d.Until("document.querySelector('#notice-reference')", "the notice")
	d.Fill("#notice-reference", "OF-881")
	d.Fill("#notice-1", "40")
	d.Reload()
	d.Until("document.querySelector('#notice-reference')?.value === 'OF-881' && document.querySelector('#notice-1').value === '40'", "what was typed before")
	d.Main()
	d.SeeIn(".notice", "the delivery can start from it")
	atTheDoor(d)
	d.Until("document.querySelector('.pile').innerText.includes('OF-881')", "the notice in the pile")
	d.Keys("OF-881", kb.Enter)
	d.See("Started from notice OF-881")
	require.Equal(t, "40", d.Value("#now-1"))
	d.Click("Take the notice back")
	d.Until("document.activeElement.id === 'end-start'", "the reason")
	d.Keys("they sent the wrong paper", kb.Enter)
	d.SeeIn(".notice", "The notice is taken back.")
	d.Until("location.pathname === '/receiving' && !location.search", "the pile is left to itself")
	d.Gone(".pile", "OF-881")
	d.Click("Saltmarsh Packaging")
	d.See("Counted at the door by Lewis Marr")
	d.Click("Throw the count away")
	d.Until("document.activeElement.id === 'end-start'", "the reason")
	d.Keys("the boxes were counted twice", kb.Enter)
	d.SeeIn(".notice", "The count is thrown away.")
	d.Gone(".pile", "At the door")
}

// TestLotsUnitsAndPhotographs: goods that are kept by lot come in cartons; the arithmetic is shown, a missing lot is
// refused, a photograph is kept with the delivery; a wrong booking is undone and the ledger follows.
func TestLotsUnitsAndPhotographs(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	wet := image.NewRGBA(image.Rect(0, 0, 2400, 1200))
	for x := range 2400 {
		wet.Set(x, 600, color.RGBA{200, 40, 40, 255})
	}
	file, err := os.Create(filepath.Join(h.Post, "wet.png"))
	require.NoError(t, err)
	require.NoError(t, png.Encode(file, wet))
	require.NoError(t, file.Close())
	require.NoError(t, os.WriteFile(filepath.Join(h.Post, "no.png"), []byte("no picture"), 0o644))

	clams := openLine(t, h, "BRACK", "CLAM")
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("lewis", "/")
	atTheDoor(d)
	d.Keys(fmt.Sprint(clams.Order)+" DN 6002", kb.Enter)
	d.Until("document.activeElement.id === 'now-1'", "the first quantity")
	d.Keys("2")
	d.Eval("document.querySelector('#unit-1').value = 'XCT'; document.querySelector('#unit-1').dispatchEvent(new Event('change'))")
	d.SeeIn(".sheet", "2 cartons × 8 = 16 kg.")
	d.Main()
	d.Until("document.querySelector('#lot-1-0').classList.contains('is-invalid')", "the lot is asked for")
	d.Fill("#lot-1-0", "CM-3001")
	d.Give("#delivery-photos", "no.png")
	d.See("no.png is no picture that can be shown here.")
	d.Give("#delivery-photos", "wet.png")
	d.Until("document.querySelectorAll('.photos figure').length === 1", "the photograph")
	d.Focus("#condition")
	d.Keys("Wet at one side")
	d.Main()
	d.SeeIn(".notice", "is booked")
	d.SeeIn(".sheet", "CM-3001")
	d.SeeIn(".sheet", "counted as 2 cartons")
	d.Until("document.querySelector('.photos img')?.naturalWidth === 1600", "the photograph, made smaller")
	d.Letter("u")
	d.Until("document.activeElement.id === 'reverse'", "the question")
	d.Main()
	d.See("Say why the booking was wrong.")
	d.Keys("counted twice")
	d.Main()
	d.SeeIn("h1", "Reversal")
	d.SeeIn(".sheet", "Undoes")
	require.Equal(t, clams.Rest, openLine(t, h, "BRACK", "CLAM").Rest)
}

// TestPastTheLimit: what is past a limit is not booked; it is booked to the limit with the surplus refused at the door,
// and the limit's origin is one key away.
func TestPastTheLimit(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.Refusing(422)
	d.SignIn("lewis", "/")
	line := openLine(t, h, "BRACK", "CAPELIN")
	atTheDoor(d)
	d.Keys(fmt.Sprint(line.Order)+" DN 6003", kb.Enter)
	d.Until("document.activeElement.id === 'now-1'", "the first quantity")
	d.Fill("#now-2", "300")
	d.SeeIn(".bar", "A line is past its limit.")
	d.Alt("w")
	d.SeeIn(".sheet", "Over: 10 % is allowed on this item.")
	d.Focus("#now-2")
	d.Alt("l")
	d.Until("document.querySelector('#now-2').value === '275'", "the limit")
	refuses(d, "25")
	d.Main()
	d.SeeIn(".notice", "is booked")
}

// TestGoodsThatAreNotWanted: goods for a closed line are refused at the door, or the buyer opens the line again and they are
// booked; so is all of a line that may not have more.
func TestGoodsThatAreNotWanted(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	receiver, buyer := browser.Sit(t, h), browser.Sit(t, h)
	receiver.Refusing(422)
	line := openLine(t, h, "BRACK", "CAPELIN")
	place := "#now-" + fmt.Sprint(int64(line.Line))
	buyer.SignIn("ivo", "/orders/closing?item=CAPELIN&order="+fmt.Sprint(line.Order))
	buyer.See("1 of 1 chosen")
	buyer.Main()
	buyer.Until("document.activeElement.id === 'closing'", "the reason")
	buyer.Keys("the seals eat krill now", kb.Enter)
	buyer.SeeIn(".notice", "1 line is closed")

	receiver.SignIn("lewis", "/")
	atTheDoor(receiver)
	receiver.Keys(fmt.Sprint(line.Order)+" DN 6009", kb.Enter)
	receiver.Until("document.activeElement.id === 'now-1'", "the first quantity")
	receiver.Fill(place, "40")
	receiver.SeeIn(".finding", "is closed: no more goods are expected on it. Refuse them at the door")
	receiver.Main()
	receiver.Ready("Book delivery") // it is refused
	receiver.Until("document.activeElement.matches('"+place+"')", "what is refused has the focus")
	receiver.Alt("l")
	refuses(receiver, "40")
	receiver.Main()
	receiver.SeeIn(".notice", "is kept: nothing was taken in by it")
	receiver.SeeIn(".thread", "40 kg Capelin, loose refused at the door")
	require.Zero(t, browser.Ask(t, h, func(tx *store.Tx) (store.OpenLine, error) {
		lines, err := tx.OpenLines(store.LineFilter{Order: line.Order, Item: "CAPELIN", Closed: true})
		return lines[0], err
	}).Uninvoiced)

	buyer.Open("/orders/closing?closed=yes&item=CAPELIN&order=" + fmt.Sprint(line.Order))
	buyer.See("1 of 1 chosen")
	buyer.Main()
	buyer.Until("document.activeElement.id === 'reopening'", "the reason")
	buyer.Keys("they want it after all", kb.Enter)
	buyer.SeeIn(".notice", "1 line is open again")
	atTheDoor(receiver)
	receiver.Keys(fmt.Sprint(line.Order)+" DN 6010", kb.Enter)
	receiver.Until("document.activeElement.id === 'now-1'", "the first quantity")
	receiver.Fill(place, "40")
	receiver.SeeIn(".sheet", "rest stays open")
	receiver.Main()
	receiver.SeeIn(".notice", "is booked")
}

// TestWhatADeliveryCouldStartFrom: whoever opens an order by its number is told that it was counted at the door already, or
// announced, and can start from that.
func TestWhatADeliveryCouldStartFrom(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("lewis", "/receiving/"+fmt.Sprint(openLine(t, h, "SALTM", "BAGS").Order))
	d.See("Counted at the door by Lewis Marr and not booked yet.")
	d.Click("Start from that count")
	d.See("Counted at the door by Lewis Marr; what you book is what stands here.")
	d.Until("document.querySelector('#now-1').value === '30'", "what was counted")
	d.Open("/receiving/" + fmt.Sprint(openLine(t, h, "HALDE", "SALT").Order))
	d.See("Announced as T-2209 for 24 Nov.")
	d.Click("Start from the notice")
	d.See("Started from notice T-2209")
	d.Until("document.querySelector('#now-1').value === '24.2'", "what was announced")
}

// refuses waits until so much is refused at the door.
func refuses(d *browser.Desk, quantity string) {
	d.Until(fmt.Sprintf("[...document.querySelectorAll('input[id^=refused-]')].some(e => e.value === %q)", quantity), quantity+" are refused at the door")
	d.Accessible()
}

// Goods are refused beside what is taken in, for a reason; a line says what its goods are like; the note's own count is a
// control; and goods without a note are booked by one key.
func TestGoodsAreRefusedAndComeWithoutANote(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	line := openLine(t, h, "BRACK", "KRILL")
	receiver := browser.Sit(t, h)
	receiver.SignIn("lewis", fmt.Sprintf("/receiving/%d", line.Order))
	receiver.See("Came without a note")
	receiver.Fill("#delivery-stated", "9")
	receiver.Focus(fmt.Sprintf("#now-%d", line.Line))
	receiver.Keys("6")
	receiver.Alt("r")
	receiver.Until(fmt.Sprintf("document.activeElement.id === 'refused-%d'", line.Line), "how much is refused is typed next")
	receiver.Keys("2")
	receiver.SeeIn("#delivery-stated-error", "The note says 9 in all, and 8 are counted. Count again, or say why.")
	receiver.Alt("b")
	receiver.Until("document.querySelector('#delivery-note').disabled", "there is no note")
	receiver.Fill("#delivery-stated-why", "one carton is missing")
	receiver.Main()
	receiver.SeeIn(".notice", "is booked")
	receiver.SeeIn(".sheet", "Came without a note")
	receiver.SeeIn(".sheet", "ours 7")
	receiver.SeeIn(".sheet", "one carton is missing")
	receiver.SeeIn(".sheet table", "damaged")
	receiver.Click("History")
	receiver.SeeIn(".history", "delivery booked")
	receiver.Open(fmt.Sprintf("/orders/%d", line.Order))
	receiver.Click("History")
	receiver.SeeIn(".history", "by another document")
}

// Goods that are announced: the notice has a page, which Find and the thread lead to, and what was announced stands beside what is
// counted, on the delivery as well; an order says whether its goods are to be announced.
func TestAnnouncedAndCounted(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	buyer, receiver := browser.Sit(t, h), browser.Sit(t, h)
	notice := browser.Ask(t, h, func(tx *store.Tx) (store.Notice, error) {
		open, err := tx.OpenNotices()
		return open[0], err
	})
	buyer.SignIn("ivo", "/orders/"+fmt.Sprint(notice.OrderNumber))
	buyer.SeeIn(".sheet", "A despatch notice is required by")
	buyer.Click("Change…")
	buyer.Until("document.activeElement.id === 'notice-days'", "the days")
	buyer.Keys("never")
	buyer.Main()
	buyer.SeeIn(".sheet", "No despatch notice is required.")
	buyer.Accessible()

	receiver.SignIn("lewis", "/orders")
	receiver.Letter("/")
	receiver.Keys("T-2209")
	receiver.SeeIn("[role=listbox]", "Notice")
	receiver.Keys("\r")
	receiver.SeeIn("h1", "Notice T-2209")
	receiver.SeeIn(".sheet", "24.2")
	receiver.Accessible()
	receiver.Letter("b")
	receiver.SeeIn(".sheet", "announced 24.2")
	receiver.Fill("#now-1", "23.9")
	receiver.SeeIn(".sheet", "announced 24.2, −0.3")
	receiver.Main()
	receiver.SeeIn(".notice", "is booked")
	receiver.SeeIn(".sheet", "Announced by")
	receiver.SeeIn(".sheet table", "Announced")
	receiver.Accessible()
	receiver.Click("T-2209")
	receiver.SeeIn(".headline", "arrived")
	receiver.SeeIn(".sheet table", "23.9")
}

// TestRefusals: what a person may not do is said beside its field, and nothing is lost.
func TestRefusals(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	order := browser.OrderOf(t, h, "DN 5438")
	receiver := browser.Sit(t, h)
	receiver.SignIn("lewis", "/")
	receiver.Refusing(422)
	receiver.Refusing(409)
	receiver.Open(fmt.Sprintf("/receiving/%d", order))
	receiver.Fill("#now-1", "1.0000001")
	receiver.See("Not a number of at most six places")
	receiver.Fill("#now-1", "-3")
	receiver.Fill("#delivery-note", "DN 1")
	receiver.See("A delivered quantity cannot be below zero")
	receiver.Main()
	receiver.Until("document.activeElement.id === 'now-1'", "the focus moves to the quantity")
	receiver.Fill("#now-1", "50")
	receiver.SeeIn(".finding", "At most 45 cartons can be booked now")
	receiver.Focus("#now-1")
	receiver.Alt("l")
	refuses(receiver, "5")
	receiver.Fill("#delivery-day", "1.12.2026")
	receiver.Main()
	receiver.See("The day of arrival is in the future")
	receiver.Fill("#delivery-day", "23.11")
	receiver.Fill("#delivery-note", "dn-5438")
	receiver.Main()
	receiver.See("If this is a second part of it, say so")
	require.Equal(t, "45", receiver.Value("#now-1"))
	receiver.Eval("document.querySelector('#second-part').click()")
	receiver.Main()
	receiver.SeeIn(".notice", "is booked")
	receiver.SeeIn(".bar", "Undo this booking")
	receiver.Letter("u")
	receiver.Focus("#reverse")
	receiver.Keys("counted the wrong pallet", kb.Enter)
	receiver.SeeIn(".notice", "is undone by")
	receiver.SeeIn("table", "45")
}

// A delivery that was begun is no trap: another note asks which is meant, the begun one stands in the pile, and what is
// booked is what was typed.
func TestABegunDeliveryAsks(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	order := browser.OrderOf(t, h, "DN 5438")
	receiver := browser.Sit(t, h)
	receiver.SignIn("lewis", "/")
	begin := func(note string) {
		receiver.Open("/receiving")
		receiver.Fill("#receive-order", fmt.Sprintf("%d %s", order, note))
		receiver.Keys(kb.Enter)
	}
	begin("NOTE-A")
	receiver.Until("document.activeElement.id.startsWith('now-')", "counting begins")
	receiver.Keys("5", kb.Enter)
	receiver.Until("Object.keys(localStorage).some(k => k.startsWith('lagoon.draft.delivery.'))", "it is kept")
	begin("NOTE-B")
	receiver.SeeIn("h1", "Another delivery on this order was begun")
	receiver.See("note NOTE-A, 1 line counted")
	receiver.Accessible()
	receiver.Keys(kb.Enter)
	receiver.Main()
	receiver.SeeIn("h1", "Another delivery on this order was begun")
	receiver.Click("Begin NOTE-B anew")
	receiver.Until("document.activeElement.id.startsWith('now-')", "counting begins")
	require.Equal(t, "NOTE-B", receiver.Value("#delivery-note"))
	require.Empty(t, receiver.Value("input[id^=now-]"))
	receiver.Keys("3", kb.Enter)
	receiver.Until("Object.keys(localStorage).some(k => k.startsWith('lagoon.draft.delivery.') && localStorage[k].includes('NOTE-B'))", "it is kept")
	receiver.Open("/receiving")
	receiver.SeeIn(".pile", "note NOTE-B")
	begin("NOTE-B")
	receiver.See("Begun")
	receiver.Until(
		"document.activeElement.id.startsWith('now-') && document.activeElement.selectionEnd === 1 && document.activeElement.selectionStart === 0",
		"the figure is chosen",
	)
	receiver.Keys("4")
	require.Equal(t, "4", receiver.Value("input[id^=now-]"))
}

// TestCountedAtTheDoor: where the company says so, a delivery is counted at the door and booked by another person.
func TestCountedAtTheDoor(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	_, err := people.Add(t.Context(), h.App, browser.Colleague(t, h, "rhea"), people.Entry{
		Login: "kit", Name: "Kit Sand", Password: demo.Password, Lasting: true, Roles: []string{"receiver"},
	})
	require.NoError(t, err)
	company := browser.Sit(t, h)
	company.SignIn("rhea", "/setup/company")
	company.Click("A delivery is counted at the door")
	company.Main()
	company.SeeIn(".notice", "What the company decides is changed.")

	door := browser.Sit(t, h)
	door.SignIn("lewis", "/")
	order := browser.OrderOf(t, h, "DN 5438")
	door.Open("/receiving")
	door.Until("document.activeElement.id === 'receive-order' && document.querySelector('.pile .slip')", "the field")
	door.Keys(fmt.Sprint(order)+" DN 7001", kb.Enter)
	door.SeeIn(".bar", "Counted now, booked by somebody else.")
	door.Main()
	door.SeeIn(".notice", "Somebody else books it.")
	door.SeeIn(".pile", "counted by Lewis Marr")

	second := browser.Sit(t, h)
	second.SignIn("kit", "/receiving")
	second.SeeIn(".pile", "At the door")
	second.Click(fmt.Sprint(order))
	second.See("Counted at the door by Lewis Marr")
	require.Equal(t, "DN 7001", second.Value("#delivery-note"))
	second.Main()
	second.SeeIn(".notice", "is booked")
}

// TestEffort counts what the hands do for the work that comes most often.
func TestEffort(t *testing.T) {
	t.Parallel()
	h := browser.Open(t)
	d := browser.Sit(t, h)
	d.SignIn("lewis", "/")
	atTheField := func() {
		d.Open("/receiving")
		d.Until("document.activeElement.id === 'receive-order' && document.querySelector('.pile .slip')", "the field")
	}

	atTheField()
	order := browser.OrderOf(t, h, "DN 5438")
	before := d.Acts
	d.Keys(fmt.Sprintf("%d DN 9001", order), kb.Enter)
	d.SeeIn(".bar", "Book all as ordered")
	d.SeeIn(".bar .sum", "Books ")
	d.Main()
	d.SeeIn(".notice", "is booked")
	complete := d.Acts - before
	require.LessOrEqual(t, complete, 3)
	browser.Effort(t, "A complete delivery on a known order", complete)

	atTheField()
	feed := browser.Ask(t, h, func(tx *store.Tx) (int64, error) {
		lines, err := tx.OpenLines(store.LineFilter{Supplier: "BRACK", Item: "CAPELIN"})
		return lines[0].Order, err
	})
	before = d.Acts
	d.Keys(fmt.Sprintf("%d DN 9002", feed), kb.Enter)
	d.SeeIn(".bar", "Book all as ordered")
	d.Until("document.activeElement.id === 'now-1'", "the first quantity")
	d.Alt("a")
	d.Until("document.querySelector('#now-2').value !== ''", "all as ordered")
	d.Keys(kb.Enter)
	d.Until("document.activeElement.id === 'now-2'", "the second quantity")
	d.Keys("100")
	d.SeeIn(".sheet", "rest stays open")
	d.Main()
	d.SeeIn(".notice", "is booked")
	partial := d.Acts - before
	require.LessOrEqual(t, partial, complete+6)
	browser.Effort(t, "A delivery of which one line came in part", partial)
}
