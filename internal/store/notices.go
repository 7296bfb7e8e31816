package store

import (
	"lagoon/internal/core/day"
	"lagoon/internal/core/money"
	"lagoon/internal/core/trade"
)

// NoticeState says where an advance shipping notice is.
type NoticeState string

// The states: on its way, here, or taken back.
const (
	NoticeOpen      NoticeState = "open"
	NoticeArrived   NoticeState = "arrived"
	NoticeWithdrawn NoticeState = "withdrawn"
)

// Notice is what a supplier says is on its way.
type Notice struct {
	ID, Number, Order int64 // Order is the row key
	OrderNumber       int64
	Supplier          string // name
	Reference         string // the supplier's number of it
	ExpectedOn        day.Day
	Carrier           string
	Paper             int64
	State             NoticeState
	Delivery          int64 // row key of what it arrived as
	ByName, At        string
	By                int64
}

// NoticeLine is one line of a notice.
type NoticeLine struct {
	No        int
	OrderLine int64
	Quantity  money.Decimal
	Lot       string
}

const noticeColumns = `SELECT n.id, n.number, n.purchase_order, o.number, s.name, n.reference, st.expected_on,
	n.carrier, coalesce(n.paper, 0), st.state, coalesce(st.delivery, 0), coalesce(p.name, 'Lagoon'), n.at `

const noticeJoins = `JOIN purchase_order o ON o.id = n.purchase_order JOIN supplier s ON s.id = o.supplier LEFT JOIN person p ON p.id = n.by_person `

var (
	addNotice = statement(
		`INSERT INTO notice (number, purchase_order, reference, reference_key, expected_on, carrier, paper,
			by_person, at) VALUES (?, ?, ?, ?, ?, ?, nullif(?, 0), nullif(?, 0), ?)`,
	)
	addNoticeLine  = statement(`INSERT INTO notice_line (notice, no, order_line, quantity, lot) VALUES (?, ?, ?, ?, ?)`)
	putNoticeState = statement(
		`INSERT INTO notice_state (notice, state, expected_on, delivery) VALUES (?, ?, ?, nullif(?, 0))
		ON CONFLICT (notice) DO UPDATE SET state = excluded.state, expected_on = excluded.expected_on,
		delivery = excluded.delivery`,
	)
	noticeByNumber = statement(
		noticeColumns + `FROM notice n JOIN notice_state st ON st.notice = n.id ` + noticeJoins + `WHERE n.number = ?`,
	)
	noticesOfOrder = statement(
		noticeColumns + `FROM notice n JOIN notice_state st ON st.notice = n.id ` + noticeJoins + `WHERE n.purchase_order = ? ORDER BY n.id`,
	)
	openNotices = cutAt(
		200,
		noticeColumns+`FROM notice_state st JOIN notice n ON n.id = st.notice `+noticeJoins+`WHERE st.state = 'open' ORDER BY st.expected_on, st.notice`,
	)
	noticeLines = statement(`SELECT no, order_line, quantity, lot FROM notice_line WHERE notice = ? ORDER BY no`)
	addArrival  = statement(
		`INSERT INTO arrival (number, purchase_order, entry, counted_by, at) VALUES (?, ?, ?, nullif(?, 0), ?)`,
	)
	putArrival = statement(
		`INSERT INTO arrival_state (arrival, state, delivery) VALUES (?, ?, nullif(?, 0))
			ON CONFLICT (arrival) DO UPDATE SET state = excluded.state, delivery = excluded.delivery`,
	)
	arrivalByNo = statement(
		arrivalColumns + `FROM arrival a JOIN arrival_state st ON st.arrival = a.id ` + arrivalJoins + `WHERE a.number = ?`,
	)
	arrivalsOfOrder = statement(
		arrivalColumns + `FROM arrival a JOIN arrival_state st ON st.arrival = a.id ` + arrivalJoins + `WHERE a.purchase_order = ? ORDER BY a.id`,
	)
	openArrivals = cutAt(
		200,
		arrivalColumns+`FROM arrival_state st JOIN arrival a ON a.id = st.arrival `+arrivalJoins+`WHERE st.state = 'open' ORDER BY st.arrival`,
	)
)

func scanNotice(r row) (n Notice, err error) {
	err = r.Scan(
		&n.ID,
		&n.Number,
		&n.Order,
		&n.OrderNumber,
		&n.Supplier,
		&n.Reference,
		&n.ExpectedOn,
		&n.Carrier,
		&n.Paper,
		&n.State,
		&n.Delivery,
		&n.ByName,
		&n.At,
	)
	return
}

// AddNotice writes a notice with its lines, open, and gives its row key.
func (t *Tx) AddNotice(n Notice, lines []NoticeLine) (int64, error) {
	id, err := t.exec(
		addNotice,
		n.Number,
		n.Order,
		n.Reference,
		trade.NormalNumber(n.Reference),
		n.ExpectedOn,
		n.Carrier,
		n.Paper,
		n.By,
		n.At,
	)
	if err != nil {
		return 0, err
	}
	for _, l := range lines {
		if err := t.do(addNoticeLine, id, l.No, l.OrderLine, l.Quantity, l.Lot); err != nil {
			return 0, err
		}
	}
	n.ID, n.State = id, NoticeOpen
	return id, t.SaveNotice(n)
}

// SaveNotice writes where a notice is.
func (t *Tx) SaveNotice(n Notice) error {
	return t.do(putNoticeState, n.ID, n.State, n.ExpectedOn, n.Delivery)
}

// NoticeByNumber finds a notice.
func (t *Tx) NoticeByNumber(number int64) (Notice, error) {
	return one(t, noticeByNumber, scanNotice, number)
}

// Notices lists those of an order.
func (t *Tx) Notices(order int64) ([]Notice, error) {
	return list(t, noticesOfOrder, scanNotice, order)
}

// OpenNotices lists what is on its way, by the day it is expected.
func (t *Tx) OpenNotices() ([]Notice, error) { return listCut(t, openNotices, scanNotice) }

// NoticeLines are the lines of a notice.
func (t *Tx) NoticeLines(notice int64) ([]NoticeLine, error) {
	return list(t, noticeLines, func(r row) (l NoticeLine, err error) {
		err = r.Scan(&l.No, &l.OrderLine, &l.Quantity, &l.Lot)
		return
	}, notice)
}

// Arrival is a delivery as it was counted at the door, for another person to book.
// Entry is the count as JSON.
type Arrival struct {
	ID, Number, Order, OrderNumber int64
	Supplier                       string
	Entry                          []byte
	By                             int64
	ByName, At, State              string
	Delivery                       int64
}

// The states of an arrival.
const (
	ArrivalOpen      = "open"
	ArrivalBooked    = "booked"
	ArrivalDiscarded = "discarded"
)

const arrivalColumns = `SELECT a.id, a.number, a.purchase_order, o.number, s.name, a.entry, coalesce(a.counted_by,
	0), coalesce(p.name, 'Lagoon'), a.at, st.state, coalesce(st.delivery, 0) `

const arrivalJoins = `JOIN purchase_order o ON o.id = a.purchase_order JOIN supplier s ON s.id = o.supplier LEFT JOIN person p ON p.id = a.counted_by `

func scanArrival(r row) (a Arrival, err error) {
	err = r.Scan(
		&a.ID,
		&a.Number,
		&a.Order,
		&a.OrderNumber,
		&a.Supplier,
		&a.Entry,
		&a.By,
		&a.ByName,
		&a.At,
		&a.State,
		&a.Delivery,
	)
	return
}

// AddArrival writes a count, open.
func (t *Tx) AddArrival(a Arrival) error {
	id, err := t.exec(addArrival, a.Number, a.Order, string(a.Entry), a.By, a.At)
	if err != nil {
		return err
	}
	a.ID, a.State = id, ArrivalOpen
	return t.SaveArrival(a)
}

// SaveArrival writes where a count is.
func (t *Tx) SaveArrival(a Arrival) error { return t.do(putArrival, a.ID, a.State, a.Delivery) }

// ArrivalByNumber finds a count.
func (t *Tx) ArrivalByNumber(number int64) (Arrival, error) {
	return one(t, arrivalByNo, scanArrival, number)
}

// Arrivals lists the counts of an order.
func (t *Tx) Arrivals(order int64) ([]Arrival, error) {
	return list(t, arrivalsOfOrder, scanArrival, order)
}

// OpenArrivals lists what is counted and not booked, oldest first.
func (t *Tx) OpenArrivals() ([]Arrival, error) { return listCut(t, openArrivals, scanArrival) }
