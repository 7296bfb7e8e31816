package store

import (
	"lagoon/internal/core/book"
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// DeliveryKind says whether goods came, a booking is undone, or goods went back.
type DeliveryKind string

// The kinds of documents about goods; they share one number series.
const (
	Arrived  DeliveryKind = "delivery"
	Reversal DeliveryKind = "reversal" // of a delivery, a return or an acceptance as free
	Returned DeliveryKind = "return"
	Free     DeliveryKind = "free" // accepted as free of charge
)

// Delivery is a booked delivery, goods accepted as free of charge, the reversal of either, or
// a return.
type Delivery struct {
	ID, Number, Order int64 // Order is the row key
	Kind              DeliveryKind
	Against           int64 // row key of the document that is reversed or returned
	Outcome           string
	Note              string
	Day               day.Day
	PostedOn          day.Day // of its entry
	Place, Condition  string
	Reason            string
	SecondPart        bool
	NoNote            bool           // Note is a number of ours
	Stated            *money.Decimal // what the note says came in all
	Why               string         // why the lines do not add up to it
	By                int64
	At                string
}

// ReceiptLine is one line of a delivery as booked. Counted is as it was counted, in Unit.
type ReceiptLine struct {
	ID, OrderLine     int64
	Quantity, Refused money.Decimal
	Reason, Remark    string // why goods were refused; what is to be said of the goods
	Counted           money.Decimal
	Unit              string
	Value, ValueBase  money.Amount
	Rate              money.Decimal // of the order's currency, at which ValueBase was made
	Revision          int           // of the order, at whose price Value was made
}

// Lot is a part of a receipt line under one lot number.
type Lot struct {
	No         int
	Lot        string
	Quantity   money.Decimal
	BestBefore day.Day
}

const deliveryColumns = `SELECT id, number, purchase_order, kind, coalesce(against, 0), coalesce(outcome, ''), note,
	arrived_on, posted_on, place, condition, reason, second_part, no_note, stated, stated_why, coalesce(booked_by,
	0), booked_at FROM delivery `

var (
	addDelivery = statement(
		`INSERT INTO delivery (number, kind, purchase_order, against, outcome, note, note_key, arrived_on, posted_on,
		place, condition, reason, second_part, no_note, stated, stated_why, booked_by, booked_at)
		VALUES (?, ?, ?, nullif(?, 0), nullif(?, ''), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, nullif(?, 0), ?)`,
	)
	addReceiptLine = statement(
		`INSERT INTO receipt_line (delivery, order_line, quantity, refused, refused_reason, remark, counted,
			counted_unit, value, value_base, rate, order_revision) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
	)
	addLot = statement(
		`INSERT INTO receipt_lot (receipt_line, no, lot, quantity, best_before) VALUES (?, ?, ?, ?, ?)`,
	)
	lotsOf = statement(
		`SELECT no, lot, quantity, best_before FROM receipt_lot WHERE receipt_line = ? ORDER BY no`,
	)
	lotsLeft = statement(
		`SELECT min(no), lot, sum(quantity) - coalesce((SELECT sum(b.quantity) FROM return_lot b
		WHERE b.receipt_line = l.receipt_line AND b.lot = l.lot
		AND NOT EXISTS (SELECT 1 FROM delivery u WHERE u.against = b.delivery)), 0) AS rest, max(best_before)
		FROM receipt_lot l WHERE receipt_line = ? GROUP BY lot HAVING rest > 0 ORDER BY min(no)`,
	)
	addLotBack = statement(`INSERT INTO return_lot (delivery, receipt_line, no, lot, quantity) VALUES (?, ?, ?, ?, ?)`)
	lotsBack   = statement(
		`SELECT no, lot, quantity, coalesce((SELECT max(l.best_before) FROM receipt_lot l
		WHERE l.receipt_line = b.receipt_line AND l.lot = b.lot), '')
		FROM return_lot b WHERE delivery = ? AND receipt_line = ? ORDER BY no`,
	)
	addPhoto       = statement(`INSERT INTO delivery_photo (delivery, no, paper) VALUES (?, ?, ?)`)
	photosOf       = statement(`SELECT paper FROM delivery_photo WHERE delivery = ? ORDER BY no`)
	deliveryByNote = statement(
		`SELECT d.number FROM delivery d JOIN purchase_order o ON o.id = d.purchase_order
		WHERE d.note_key = ? AND o.supplier = ? AND d.kind = 'delivery'
		AND NOT EXISTS (SELECT 1 FROM delivery r WHERE r.against = d.id AND r.kind = 'reversal') ORDER BY d.id LIMIT 1`,
	)
	deliveriesNoted = statement(
		deliveryColumns + `WHERE note_key = ? AND kind = 'delivery'
		AND NOT EXISTS (SELECT 1 FROM delivery r WHERE r.against = delivery.id AND r.kind = 'reversal') ORDER BY id DESC LIMIT 20`,
	)
	deliveryByNo   = statement(deliveryColumns + `WHERE number = ?`)
	deliveryByID   = statement(deliveryColumns + `WHERE id = ?`)
	deliveriesOf   = statement(deliveryColumns + `WHERE purchase_order = ? ORDER BY id`)
	deliveriesBare = statement(deliveryColumns + `WHERE purchase_order = ? AND arrived_on = ? AND no_note = 1
		AND NOT EXISTS (SELECT 1 FROM delivery r WHERE r.against = delivery.id AND r.kind = 'reversal') ORDER BY id`)
	againstOf     = statement(deliveryColumns + `WHERE against = ? ORDER BY id`)
	deliveryLines = statement(
		`SELECT id, order_line, quantity, refused, refused_reason, remark, counted, counted_unit, value, value_base,
			rate FROM receipt_line WHERE delivery = ? ORDER BY id`,
	)
	takenBackLines = statement(
		`SELECT a.receipt_line, a.order_line, abs(a.quantity), 0, '', '', abs(a.quantity), l.unit, abs(a.value),
		abs(a.value_base), 0 FROM allocation a JOIN order_line l ON l.id = a.order_line
		WHERE a.delivery = ? AND a.kind IN ('reversed', 'returned', 'credited', 'free') ORDER BY a.id`,
	)
	closesOf = statement(
		`SELECT order_line, coalesce(delivery, 0), goods, invoices, reason, coalesce(by_person, 0), at
			FROM line_close WHERE delivery = ? ORDER BY id`,
	)
	addAllocation = statement(
		`INSERT INTO allocation (order_line, receipt_line, invoice_line, delivery, kind, quantity, value, value_base,
			order_revision) VALUES (?, nullif(?, 0), nullif(?, 0), nullif(?, 0), ?, ?, ?, ?, ?)`,
	)
	allocationsOfDocument = statement(
		allocationColumns + `FROM allocation a ` + allocationBills + `WHERE a.delivery = ? ORDER BY a.id`,
	)
	allocationsOfInvoice = statement(
		`SELECT a.order_line, coalesce(a.receipt_line, 0), a.invoice_line, r.invoice, r.rate, a.kind,
		sum(a.quantity), sum(a.value), sum(a.value_base), 0
		FROM invoice_line il JOIN allocation a ON a.invoice_line = il.id
		JOIN invoice_revision r ON r.id = il.invoice_revision
		WHERE il.invoice_revision = ? GROUP BY a.order_line, a.receipt_line, a.invoice_line, a.kind
		HAVING sum(a.quantity) <> 0`,
	)
)

const (
	allocationColumns = `SELECT a.order_line, coalesce(a.receipt_line, 0), coalesce(a.invoice_line, 0),
		coalesce(ir.invoice, 0), coalesce(ir.rate, 0), a.kind, a.quantity, a.value, a.value_base, 0 `
	allocationBills = `LEFT JOIN invoice_line il ON il.id = a.invoice_line LEFT JOIN invoice_revision ir ON ir.id = il.invoice_revision `
)

// AddDelivery writes a delivery's head and gives its row key.
func (t *Tx) AddDelivery(d Delivery) (int64, error) {
	return t.exec(
		addDelivery,
		d.Number,
		d.Kind,
		d.Order,
		d.Against,
		d.Outcome,
		d.Note,
		trade.NormalNumber(d.Note),
		d.Day,
		d.PostedOn,
		d.Place,
		d.Condition,
		d.Reason,
		d.SecondPart,
		d.NoNote,
		d.Stated,
		d.Why,
		d.By,
		d.At,
	)
}

// AddReceiptLine writes a line of a delivery and gives its row key.
func (t *Tx) AddReceiptLine(delivery int64, r ReceiptLine) (int64, error) {
	return t.exec(
		addReceiptLine,
		delivery,
		r.OrderLine,
		r.Quantity,
		r.Refused,
		r.Reason,
		r.Remark,
		r.Counted,
		r.Unit,
		r.Value,
		r.ValueBase,
		r.Rate,
		r.Revision,
	)
}

// AddLot writes a lot of a receipt line.
func (t *Tx) AddLot(line int64, l Lot) error {
	return t.do(addLot, line, l.No, l.Lot, l.Quantity, l.BestBefore)
}

func scanLot(r row) (l Lot, err error) {
	err = r.Scan(&l.No, &l.Lot, &l.Quantity, &l.BestBefore)
	return
}

// LotsOf are the lots of a receipt line as they came.
func (t *Tx) LotsOf(line int64) ([]Lot, error) { return list(t, lotsOf, scanLot, line) }

// LotsLeft are the lots of a receipt line with what did not go back, each once.
func (t *Tx) LotsLeft(line int64) ([]Lot, error) { return list(t, lotsLeft, scanLot, line) }

// AddLotBack writes how much of a lot a return takes from a receipt line.
func (t *Tx) AddLotBack(delivery, line int64, l Lot) error {
	return t.do(addLotBack, delivery, line, l.No, l.Lot, l.Quantity)
}

// LotsBack are the lots that a return took from a receipt line.
func (t *Tx) LotsBack(delivery, line int64) ([]Lot, error) {
	return list(t, lotsBack, scanLot, delivery, line)
}

// AddPhoto keeps a paper as a photograph of a delivery.
func (t *Tx) AddPhoto(delivery int64, no int, paper int64) error {
	return t.do(addPhoto, delivery, no, paper)
}

// PhotosOf are the papers that are photographs of a delivery.
func (t *Tx) PhotosOf(delivery int64) ([]int64, error) {
	return list(t, photosOf, scanOne[int64], delivery)
}

// DeliveryWithNote is the number of a standing delivery of the supplier with the
// same delivery note, or zero.
func (t *Tx) DeliveryWithNote(note string, supplier int64) (int64, error) {
	return t.number(deliveryByNote, trade.NormalNumber(note), supplier)
}

// DeliveriesNoted are the latest standing deliveries under a note, of whichever suppliers.
func (t *Tx) DeliveriesNoted(note string) ([]Delivery, error) {
	return list(t, deliveriesNoted, scanDelivery, trade.NormalNumber(note))
}

// WithoutNote are the standing deliveries of an order on a day that came without a note.
func (t *Tx) WithoutNote(order int64, on day.Day) ([]Delivery, error) {
	return list(t, deliveriesBare, scanDelivery, order, on)
}

func scanDelivery(r row) (d Delivery, err error) {
	err = r.Scan(
		&d.ID,
		&d.Number,
		&d.Order,
		&d.Kind,
		&d.Against,
		&d.Outcome,
		&d.Note,
		&d.Day,
		&d.PostedOn,
		&d.Place,
		&d.Condition,
		&d.Reason,
		&d.SecondPart,
		&d.NoNote,
		&d.Stated,
		&d.Why,
		&d.By,
		&d.At,
	)
	return
}

// DeliveryByNumber finds a delivery.
func (t *Tx) DeliveryByNumber(number int64) (Delivery, error) {
	return one(t, deliveryByNo, scanDelivery, number)
}

// DeliveryByID finds a delivery by row key.
func (t *Tx) DeliveryByID(id int64) (Delivery, error) { return one(t, deliveryByID, scanDelivery, id) }

// Deliveries lists an order's deliveries in the order of booking.
func (t *Tx) Deliveries(order int64) ([]Delivery, error) {
	return list(t, deliveriesOf, scanDelivery, order)
}

// Against lists what reverses a delivery or returns its goods.
func (t *Tx) Against(delivery int64) ([]Delivery, error) {
	return list(t, againstOf, scanDelivery, delivery)
}

func scanReceiptLine(r row) (l ReceiptLine, err error) {
	err = r.Scan(
		&l.ID,
		&l.OrderLine,
		&l.Quantity,
		&l.Refused,
		&l.Reason,
		&l.Remark,
		&l.Counted,
		&l.Unit,
		&l.Value,
		&l.ValueBase,
		&l.Rate,
	)
	return
}

// DeliveryLines are the lines of a delivery; of another document, what it took or put back.
func (t *Tx) DeliveryLines(d Delivery) ([]ReceiptLine, error) {
	if d.Kind != Arrived {
		return list(t, takenBackLines, scanReceiptLine, d.ID)
	}
	return list(t, deliveryLines, scanReceiptLine, d.ID)
}

// ClosedAt are the closings and openings of order lines by a document about goods.
func (t *Tx) ClosedAt(delivery int64) ([]LineClose, error) {
	return list(t, closesOf, scanLineClose, delivery)
}

// Allocation is a row of an order line, with row keys; Receipt is zero without one.
type Allocation struct {
	OrderLine, Receipt, InvoiceLine, Invoice, Delivery, CreditLine int64

	Rate money.Decimal // of the invoice
	Kind trade.AllocationKind
	trade.Relief
}

func scanAllocation(r row) (a Allocation, err error) {
	err = r.Scan(&a.OrderLine, &a.Receipt, &a.InvoiceLine, &a.Invoice, &a.Rate, &a.Kind, &a.Quantity, &a.Value, &a.Base, &a.CreditLine)
	return
}

// on gives the allocation on its order line; false where line or receipt are missing.
func (a Allocation) on(
	lines map[int64]*trade.OrderLine,
	receipts map[int64]*trade.Receipt,
) (*trade.OrderLine, trade.Allocation, bool) {
	line, receipt := lines[a.OrderLine], receipts[a.Receipt]
	return line, trade.Allocation{
			Kind:        a.Kind,
			Receipt:     receipt,
			InvoiceLine: a.InvoiceLine,
			Invoice:     a.Invoice,
			Rate:        a.Rate,
			CreditLine:  a.CreditLine,
			Relief:      a.Relief,
		},
		line != nil &&
			(receipt != nil) == (a.Receipt != 0)
}

// AllocationsOf is what the lines of an invoice revision hold of the lines of its orders, by
// receipt line and kind.
func (t *Tx) AllocationsOf(revision int64, orders ...*trade.Order) ([]book.Allocation, error) {
	return t.allocations(allocationsOfInvoice, revision, orders)
}

// AllocationsBy is what a document about goods allocated of the lines of its order.
func (t *Tx) AllocationsBy(delivery int64, order *trade.Order) ([]book.Allocation, error) {
	return t.allocations(allocationsOfDocument, delivery, []*trade.Order{order})
}

func (t *Tx) allocations(query *query, key int64, orders []*trade.Order) ([]book.Allocation, error) {
	rows, err := list(t, query, scanAllocation, key)
	lines, receipts := map[int64]*trade.OrderLine{}, map[int64]*trade.Receipt{}
	for _, o := range orders {
		for _, l := range o.Lines {
			lines[l.ID] = l
			for _, r := range l.Receipts {
				receipts[r.ID] = r
			}
		}
	}
	var all []book.Allocation
	for _, row := range rows {
		line, a, ok := row.on(lines, receipts)
		if !ok {
			return nil, brokenLine(0, row.OrderLine)
		}
		all = append(all, book.Allocation{Line: line, Allocation: a})
	}
	return all, err
}
