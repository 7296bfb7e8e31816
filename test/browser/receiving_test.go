package browser

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

	"lagoon/internal/store"
)

// openLine is the newest open order line of an item at a supplier.
func openLine(t testing.TB, h place, supplier, item string) store.OpenLine {
	t.Helper()
	lines := ask(t, h, func(tx *store.Tx) ([]store.OpenLine, error) {
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
func (d *desk) atTheDoor() {
	d.t.Helper()
	d.open("/receiving")
	d.until("document.activeElement.id === 'receive-order' && document.querySelector('.pile .slip')", "the field")
}

// TestAnnouncedGoods: a notice is read from a despatch advice or entered, and the delivery starts from it; one that was
// entered wrongly is taken back, and so is a count at the door.
func TestAnnouncedGoods(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("lewis")
	d.atTheDoor()
	d.give("#read-advice", "8-despatch-advice.xml")
	d.seeIn(".notice", "A notice is read.")
	d.click("Start from notice")
	d.see("Started from notice BW-DA-771")
	d.until("document.activeElement.id === 'now-1'", "the first quantity")
	require.Equal(t, "60", d.value("#now-1"))
	require.Equal(t, "250", d.value("#now-2"), "20 cartons of 12.5 kg")
	d.fill("#delivery-note", "DN 6001")
	d.main()
	d.seeIn(".notice", "is booked")

	sand := openLine(t, h, "OSTRE", "SAND").Order
	d.open("/orders/" + fmtOrder(sand))
	d.see("Filter sand")
	d.letter("a")
	d.until("document.querySelector('#notice-reference')", "the notice")
	d.fill("#notice-reference", "OF-881")
	d.fill("#notice-1", "40")
	d.reload()
	d.until("document.querySelector('#notice-reference')?.value === 'OF-881' && document.querySelector('#notice-1').value === '40'", "what was typed before")
	d.main()
	d.seeIn(".notice", "the delivery can start from it")
	d.atTheDoor()
	d.until("document.querySelector('.pile').innerText.includes('OF-881')", "the notice in the pile")
	d.keys("OF-881", kb.Enter)
	d.see("Started from notice OF-881")
	require.Equal(t, "40", d.value("#now-1"))
	d.click("Take the notice back")
	d.until("document.activeElement.id === 'end-start'", "the reason")
	d.keys("they sent the wrong paper", kb.Enter)
	d.seeIn(".notice", "The notice is taken back.")
	d.until("location.pathname === '/receiving' && !location.search", "the pile is left to itself")
	d.gone(".pile", "OF-881")
	d.click("Saltmarsh Packaging")
	d.see("Counted at the door by Lewis Marr")
	d.click("Throw the count away")
	d.until("document.activeElement.id === 'end-start'", "the reason")
	d.keys("the boxes were counted twice", kb.Enter)
	d.seeIn(".notice", "The count is thrown away.")
	d.gone(".pile", "At the door")
}

// TestLotsUnitsAndPhotographs: goods that are kept by lot come in cartons; the arithmetic is shown, a missing lot is
// refused, a photograph is kept with the delivery; a wrong booking is undone and the ledger follows.
func TestLotsUnitsAndPhotographs(t *testing.T) {
	t.Parallel()
	h := open(t)
	wet := image.NewRGBA(image.Rect(0, 0, 2400, 1200))
	for x := range 2400 {
		wet.Set(x, 600, color.RGBA{200, 40, 40, 255})
	}
	file, err := os.Create(filepath.Join(h.post, "wet.png"))
	require.NoError(t, err)
	require.NoError(t, png.Encode(file, wet))
	require.NoError(t, file.Close())
	require.NoError(t, os.WriteFile(filepath.Join(h.post, "no.png"), []byte("no picture"), 0o644))

	clams := openLine(t, h, "BRACK", "CLAM")
	d := sit(t, h)
	d.refusing(422)
	d.signIn("lewis")
	d.atTheDoor()
	d.keys(fmtOrder(clams.Order)+" DN 6002", kb.Enter)
	d.until("document.activeElement.id === 'now-1'", "the first quantity")
	d.keys("2")
	d.eval("document.querySelector('#unit-1').value = 'XCT'; document.querySelector('#unit-1').dispatchEvent(new Event('change'))")
	d.seeIn(".sheet", "2 cartons × 8 = 16 kg.")
	d.main()
	d.until("document.querySelector('#lot-1-0').classList.contains('is-invalid')", "the lot is asked for")
	d.fill("#lot-1-0", "CM-3001")
	d.give("#delivery-photos", "no.png")
	d.see("no.png is no picture that can be shown here.")
	d.give("#delivery-photos", "wet.png")
	d.until("document.querySelectorAll('.photos figure').length === 1", "the photograph")
	d.focus("#condition")
	d.keys("Wet at one side")
	d.main()
	d.seeIn(".notice", "is booked")
	d.seeIn(".sheet", "CM-3001")
	d.seeIn(".sheet", "counted as 2 cartons")
	d.until("document.querySelector('.photos img')?.naturalWidth === 1600", "the photograph, made smaller")
	d.letter("u")
	d.until("document.activeElement.id === 'reverse'", "the question")
	d.main()
	d.see("Say why the booking was wrong.")
	d.keys("counted twice")
	d.main()
	d.seeIn("h1", "Reversal")
	d.seeIn(".sheet", "Undoes")
	require.Equal(t, clams.Rest, openLine(t, h, "BRACK", "CLAM").Rest)
}

// TestPastTheLimit: what is past a limit is not booked; it is booked to the limit with the surplus refused at the door,
// and the limit's origin is one key away.
func TestPastTheLimit(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.refusing(422)
	d.signIn("lewis")
	line := openLine(t, h, "BRACK", "CAPELIN")
	d.atTheDoor()
	d.keys(fmtOrder(line.Order)+" DN 6003", kb.Enter)
	d.until("document.activeElement.id === 'now-1'", "the first quantity")
	d.fill("#now-2", "300")
	d.seeIn(".bar", "A line is past its limit.")
	d.alt("w")
	d.seeIn(".sheet", "Over: 10 % is allowed on this item.")
	d.focus("#now-2")
	d.alt("l")
	d.until("document.querySelector('#now-2').value === '275'", "the limit")
	d.refuses("25")
	d.main()
	d.seeIn(".notice", "is booked")
}

// TestGoodsThatAreNotWanted: goods for a closed line are refused at the door, or the buyer opens the line again and they are
// booked; so is all of a line that may not have more.
func TestGoodsThatAreNotWanted(t *testing.T) {
	t.Parallel()
	h := open(t)
	receiver, buyer := sit(t, h), sit(t, h)
	receiver.refusing(422)
	line := openLine(t, h, "BRACK", "CAPELIN")
	place := "#now-" + fmtOrder(int64(line.Line))
	buyer.signIn("ivo")
	buyer.open("/orders/closing?item=CAPELIN&order=" + fmtOrder(line.Order))
	buyer.see("1 of 1 chosen")
	buyer.main()
	buyer.until("document.activeElement.id === 'closing'", "the reason")
	buyer.keys("the seals eat krill now", kb.Enter)
	buyer.seeIn(".notice", "1 line is closed")

	receiver.signIn("lewis")
	receiver.atTheDoor()
	receiver.keys(fmtOrder(line.Order)+" DN 6009", kb.Enter)
	receiver.until("document.activeElement.id === 'now-1'", "the first quantity")
	receiver.fill(place, "40")
	receiver.seeIn(".finding", "is closed: no more goods are expected on it. Refuse them at the door")
	receiver.main()
	receiver.ready("Book delivery") // it is refused
	receiver.until("document.activeElement.matches('"+place+"')", "what is refused has the focus")
	receiver.alt("l")
	receiver.refuses("40")
	receiver.main()
	receiver.seeIn(".notice", "is kept: nothing was taken in by it")
	receiver.seeIn(".thread", "40 kg Capelin, loose refused at the door")
	require.Zero(t, ask(t, h, func(tx *store.Tx) (store.OpenLine, error) {
		lines, err := tx.OpenLines(store.LineFilter{Order: line.Order, Item: "CAPELIN", Closed: true})
		return lines[0], err
	}).Uninvoiced)

	buyer.open("/orders/closing?closed=yes&item=CAPELIN&order=" + fmtOrder(line.Order))
	buyer.see("1 of 1 chosen")
	buyer.main()
	buyer.until("document.activeElement.id === 'reopening'", "the reason")
	buyer.keys("they want it after all", kb.Enter)
	buyer.seeIn(".notice", "1 line is open again")
	receiver.atTheDoor()
	receiver.keys(fmtOrder(line.Order)+" DN 6010", kb.Enter)
	receiver.until("document.activeElement.id === 'now-1'", "the first quantity")
	receiver.fill(place, "40")
	receiver.seeIn(".sheet", "rest stays open")
	receiver.main()
	receiver.seeIn(".notice", "is booked")
}

// TestWhatADeliveryCouldStartFrom: whoever opens an order by its number is told that it was counted at the door already, or
// announced, and can start from that.
func TestWhatADeliveryCouldStartFrom(t *testing.T) {
	t.Parallel()
	h := open(t)
	d := sit(t, h)
	d.signIn("lewis")
	d.open("/receiving/" + fmtOrder(openLine(t, h, "SALTM", "BAGS").Order))
	d.see("Counted at the door by Lewis Marr and not booked yet.")
	d.click("Start from that count")
	d.see("Counted at the door by Lewis Marr; what you book is what stands here.")
	d.until("document.querySelector('#now-1').value === '30'", "what was counted")
	d.open("/receiving/" + fmtOrder(openLine(t, h, "HALDE", "SALT").Order))
	d.see("Announced as T-2209 for 24 Nov.")
	d.click("Start from the notice")
	d.see("Started from notice T-2209")
	d.until("document.querySelector('#now-1').value === '24.2'", "what was announced")
}

// refuses waits until so much is refused at the door.
func (d *desk) refuses(quantity string) {
	d.t.Helper()
	d.until(fmt.Sprintf("[...document.querySelectorAll('input[id^=refused-]')].some(e => e.value === %q)", quantity), quantity+" are refused at the door")
	d.accessible()
}

// Goods are refused beside what is taken in, for a reason; a line says what its goods are like; the note's own count is a
// control; and goods without a note are booked by one key.
func TestGoodsAreRefusedAndComeWithoutANote(t *testing.T) {
	t.Parallel()
	h := open(t)
	line := openLine(t, h, "BRACK", "KRILL")
	receiver := sit(t, h)
	receiver.signIn("lewis")
	receiver.open(fmt.Sprintf("/receiving/%d", line.Order))
	receiver.see("Came without a note")
	receiver.fill("#delivery-stated", "9")
	receiver.focus(fmt.Sprintf("#now-%d", line.Line))
	receiver.keys("6")
	receiver.alt("r")
	receiver.until(fmt.Sprintf("document.activeElement.id === 'refused-%d'", line.Line), "how much is refused is typed next")
	receiver.keys("2")
	receiver.seeIn("#delivery-stated-error", "The note says 9 in all, and 8 are counted. Count again, or say why.")
	receiver.alt("b")
	receiver.until("document.querySelector('#delivery-note').disabled", "there is no note")
	receiver.fill("#delivery-stated-why", "one carton is missing")
	receiver.main()
	receiver.seeIn(".notice", "is booked")
	receiver.seeIn(".sheet", "Came without a note")
	receiver.seeIn(".sheet", "ours 7")
	receiver.seeIn(".sheet", "one carton is missing")
	receiver.seeIn(".sheet table", "damaged")
	receiver.click("History")
	receiver.seeIn(".history", "delivery booked")
	receiver.open(fmt.Sprintf("/orders/%d", line.Order))
	receiver.click("History")
	receiver.seeIn(".history", "by another document")
}

// Goods that are announced: the notice has a page, which Find and the thread lead to, and what was announced stands beside what is
// counted, on the delivery as well; an order says whether its goods are to be announced.
func TestAnnouncedAndCounted(t *testing.T) {
	t.Parallel()
	h := open(t)
	buyer, receiver := sit(t, h), sit(t, h)
	notice := ask(t, h, func(tx *store.Tx) (store.Notice, error) {
		open, err := tx.OpenNotices()
		return open[0], err
	})
	buyer.signIn("ivo")
	buyer.open("/orders/" + fmtOrder(notice.OrderNumber))
	buyer.seeIn(".sheet", "A despatch notice is required by")
	buyer.click("Change…")
	buyer.until("document.activeElement.id === 'notice-days'", "the days")
	buyer.keys("never")
	buyer.main()
	buyer.seeIn(".sheet", "No despatch notice is required.")
	buyer.accessible()

	receiver.signIn("lewis")
	receiver.open("/orders")
	receiver.letter("/")
	receiver.keys("T-2209")
	receiver.seeIn("[role=listbox]", "Notice")
	receiver.keys("\r")
	receiver.seeIn("h1", "Notice T-2209")
	receiver.seeIn(".sheet", "24.2")
	receiver.accessible()
	receiver.letter("b")
	receiver.seeIn(".sheet", "announced 24.2")
	receiver.fill("#now-1", "23.9")
	receiver.seeIn(".sheet", "announced 24.2, −0.3")
	receiver.main()
	receiver.seeIn(".notice", "is booked")
	receiver.seeIn(".sheet", "Announced by")
	receiver.seeIn(".sheet table", "Announced")
	receiver.accessible()
	receiver.click("T-2209")
	receiver.seeIn(".headline", "arrived")
	receiver.seeIn(".sheet table", "23.9")
}
