package store

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// Delivery is a booked delivery, or the reversal of one.
type Delivery struct {
	ID, Number, Order int64 // Order is the row key
	Reverses          int64 // row key of the delivery that this one undoes
	Note              string
	Day               day.Day
	Place, Condition  string
	Reason            string
	SecondPart        bool
	By                int64
	At                string
}

// ReceiptLine is one line of a delivery as booked.
type ReceiptLine struct {
	ID, OrderLine     int64
	Quantity, Refused money.Decimal
	Value, ValueBase  money.Amount
}

var (
	addDelivery = statement(`INSERT INTO delivery (number, purchase_order, reverses, note, note_key, arrived_on, place, condition, reason, second_part, booked_by, booked_at)
		VALUES (?, ?, nullif(?, 0), ?, ?, ?, ?, ?, ?, ?, nullif(?, 0), ?)`)
	addReceiptLine = statement(`INSERT INTO receipt_line (delivery, order_line, quantity, refused, value, value_base) VALUES (?, ?, ?, ?, ?, ?)`)
	deliveryByNote = statement(`SELECT d.number FROM delivery d JOIN purchase_order o ON o.id = d.purchase_order WHERE d.note_key = ? AND o.supplier = ? AND d.reverses IS NULL
		AND NOT EXISTS (SELECT 1 FROM delivery r WHERE r.reverses = d.id) ORDER BY d.id LIMIT 1`)
	deliveryByNo   = statement(`SELECT id, number, purchase_order, coalesce(reverses, 0), note, arrived_on, place, condition, reason, second_part, coalesce(booked_by, 0), booked_at FROM delivery WHERE number = ?`)
	deliveryByID   = statement(`SELECT id, number, purchase_order, coalesce(reverses, 0), note, arrived_on, place, condition, reason, second_part, coalesce(booked_by, 0), booked_at FROM delivery WHERE id = ?`)
	deliveryLines  = statement(`SELECT id, order_line, quantity, refused, value, value_base FROM receipt_line WHERE delivery = ? ORDER BY id`)
	deliveriesOf   = statement(`SELECT id, number, purchase_order, coalesce(reverses, 0), note, arrived_on, place, condition, reason, second_part, coalesce(booked_by, 0), booked_at FROM delivery WHERE purchase_order = ? ORDER BY id`)
	reversalOf     = statement(`SELECT number FROM delivery WHERE reverses = ? LIMIT 1`)
	reversedLines  = statement(`SELECT a.receipt_line, a.order_line, a.quantity, 0, a.value, a.value_base FROM allocation a WHERE a.delivery = ? AND a.kind = 'reversed' ORDER BY a.id`)
	closesOf       = statement(`SELECT order_line FROM line_close WHERE delivery = ? AND goods = 1`)
	addAllocation  = statement(`INSERT INTO allocation (order_line, receipt_line, invoice_line, delivery, kind, quantity, value, value_base) VALUES (?, nullif(?, 0), nullif(?, 0), nullif(?, 0), ?, ?, ?, ?)`)
	beyondInvoices = statement(`SELECT invoice_line, sum(quantity), sum(value), sum(value_base) FROM allocation WHERE order_line = ? AND receipt_line IS NULL AND kind = 'billed'
		GROUP BY invoice_line HAVING sum(quantity) > 0 ORDER BY invoice_line`)
	allocationsOfInvoice = statement(`SELECT a.order_line, coalesce(a.receipt_line, 0), a.invoice_line, sum(a.quantity), sum(a.value), sum(a.value_base) FROM invoice_line il JOIN allocation a ON a.invoice_line = il.id
		WHERE il.invoice_revision = ? GROUP BY a.order_line, a.receipt_line, a.invoice_line HAVING sum(a.quantity) <> 0`)
)

// AddDelivery writes a delivery's head and gives its row key.
func (t *Tx) AddDelivery(d Delivery) (int64, error) {
	return t.exec(addDelivery, d.Number, d.Order, d.Reverses, d.Note, trade.NormalNumber(d.Note), d.Day, d.Place, d.Condition, d.Reason, d.SecondPart, d.By, d.At)
}

// AddReceiptLine writes a line of a delivery and gives its row key.
func (t *Tx) AddReceiptLine(delivery int64, r ReceiptLine) (int64, error) {
	return t.exec(addReceiptLine, delivery, r.OrderLine, r.Quantity, r.Refused, r.Value, r.ValueBase)
}

// DeliveryWithNote is the number of a standing delivery of the supplier with the
// same delivery note, or zero.
func (t *Tx) DeliveryWithNote(note string, supplier int64) (int64, error) {
	return t.number(deliveryByNote, trade.NormalNumber(note), supplier)
}

func scanDelivery(r row) (d Delivery, err error) {
	err = r.Scan(&d.ID, &d.Number, &d.Order, &d.Reverses, &d.Note, &d.Day, &d.Place, &d.Condition, &d.Reason, &d.SecondPart, &d.By, &d.At)
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

func scanReceiptLine(r row) (l ReceiptLine, err error) {
	err = r.Scan(&l.ID, &l.OrderLine, &l.Quantity, &l.Refused, &l.Value, &l.ValueBase)
	return
}

// ReceiptLines are the lines of a delivery.
func (t *Tx) ReceiptLines(delivery int64) ([]ReceiptLine, error) {
	return list(t, deliveryLines, scanReceiptLine, delivery)
}

// ReversedLines are what a reversal took back, by receipt line.
func (t *Tx) ReversedLines(reversal int64) ([]ReceiptLine, error) {
	return list(t, reversedLines, scanReceiptLine, reversal)
}

// ReversalOf is the number of the delivery that undoes this one, or zero.
func (t *Tx) ReversalOf(delivery int64) (int64, error) { return t.number(reversalOf, delivery) }

// ClosedAt are the order lines that a delivery closed.
func (t *Tx) ClosedAt(delivery int64) ([]int64, error) {
	return list(t, closesOf, scanOne[int64], delivery)
}

// The kinds of allocation.
const (
	BilledKind   = "billed"
	FreeKind     = "free"
	ReversedKind = "reversed"
)

// Allocation is a quantity taken from a receipt line, or beyond receipts where
// Receipt is zero.
type Allocation struct {
	OrderLine, Receipt, InvoiceLine, Delivery int64
	Kind                                      string
	trade.Relief
}

// AddAllocation writes an allocation.
func (t *Tx) AddAllocation(a Allocation) error {
	return t.do(addAllocation, a.OrderLine, a.Receipt, a.InvoiceLine, a.Delivery, a.Kind, a.Quantity, a.Value, a.Base)
}

// BeyondOf lists which invoice lines are billed beyond receipts on an order line,
// oldest first.
func (t *Tx) BeyondOf(orderLine int64) ([]Allocation, error) {
	return list(t, beyondInvoices, func(r row) (a Allocation, err error) {
		err = r.Scan(&a.InvoiceLine, &a.Quantity, &a.Value, &a.Base)
		return
	}, orderLine)
}

// AllocationsOf is what the lines of an invoice revision hold, by receipt line.
func (t *Tx) AllocationsOf(revision int64) ([]Allocation, error) {
	return list(t, allocationsOfInvoice, func(r row) (a Allocation, err error) {
		a.Kind = BilledKind
		err = r.Scan(&a.OrderLine, &a.Receipt, &a.InvoiceLine, &a.Quantity, &a.Value, &a.Base)
		return
	}, revision)
}
