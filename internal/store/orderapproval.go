package store

// This file keeps what orders wait for an approver, and who decided.

import (
	"lagoon/internal/core/money"
)

// OrderRequest asks for the approval of an order, or of a change of one.
type OrderRequest struct {
	ID, Order int64        // row keys
	Net       money.Amount // that it comes to without tax, in the company's currency
	Entry     []byte       // what is done once it is approved
	By        int64
	ByName    string
	At        string
}

// OrderDecision is what became of it. To is whom it was passed on to.
type OrderDecision struct {
	Request      int64
	Decision     string // approved, refused, passed, replaced
	Net          money.Amount
	To           int64
	ToName, Note string
	By           int64
	ByName, At   string
}

// The decisions about a request. One is replaced by a later one of the same order.
const (
	OrderApproved = "approved"
	OrderRefused  = "refused"
	OrderPassed   = "passed"
	OrderReplaced = "replaced"
)

const requestColumns = `SELECT r.id, r.purchase_order, r.net, r.entry, r.by_person, p.name, r.at FROM `

var (
	addOrderRequest = statement(
		`INSERT INTO order_request (purchase_order, net, entry, by_person, at) VALUES (?, ?, ?, ?, ?)`,
	)
	addOrderDecision = statement(
		`INSERT INTO order_decision (request, decision, to_person, note, by_person, at)
		VALUES (?, ?, nullif(?, 0), ?, ?, ?)`,
	)
	putOpenRequest = statement(
		`INSERT INTO order_request_state (purchase_order, request) VALUES (?, nullif(?, 0))
		ON CONFLICT (purchase_order) DO UPDATE SET request = excluded.request`,
	)
	openRequest = statement(
		requestColumns + `order_request_state s JOIN order_request r ON r.id = s.request
		JOIN person p ON p.id = r.by_person WHERE s.purchase_order = ?`,
	)
	requestsOf = statement(
		requestColumns + `order_request r JOIN person p ON p.id = r.by_person
		WHERE r.purchase_order = ? ORDER BY r.id`,
	)
	decisionsOfOrder = statement(
		`SELECT d.request, d.decision, r.net, coalesce(d.to_person, 0), coalesce(t.name, ''), d.note, d.by_person, p.name,
		d.at FROM order_request r JOIN order_decision d ON d.request = r.id JOIN person p ON p.id = d.by_person
		LEFT JOIN person t ON t.id = d.to_person WHERE r.purchase_order = ? ORDER BY d.id`,
	)
	ordersWaiting = cutAt(mostPiled, orderRowColumns+`, r.by_person, coalesce((SELECT d.to_person FROM order_decision d
		WHERE d.request = r.id AND d.decision = 'passed' ORDER BY d.id DESC LIMIT 1), 0)
		FROM order_request_state x JOIN order_request r ON r.id = x.request
		JOIN purchase_order o ON o.id = x.purchase_order JOIN order_state st ON st.purchase_order = o.id
		JOIN supplier s ON s.id = o.supplier WHERE x.request IS NOT NULL ORDER BY x.purchase_order`)
)

func scanRequest(r row) (q OrderRequest, err error) {
	err = r.Scan(&q.ID, &q.Order, &q.Net, &q.Entry, &q.By, &q.ByName, &q.At)
	return
}

// AskForOrder writes a request, which is open from now on in place of any other of its order.
func (t *Tx) AskForOrder(q OrderRequest) error {
	id, err := t.exec(addOrderRequest, q.Order, q.Net, string(q.Entry), q.By, q.At)
	if err != nil {
		return err
	}
	return t.do(putOpenRequest, q.Order, id)
}

// DecideOnOrder writes a decision; but where it is passed on, the request is open no more.
func (t *Tx) DecideOnOrder(q OrderRequest, d OrderDecision) error {
	if err := t.do(addOrderDecision, q.ID, d.Decision, d.To, d.Note, d.By, d.At); err != nil || d.Decision == OrderPassed {
		return err
	}
	return t.do(putOpenRequest, q.Order, 0)
}

// OpenOrderRequest is that of an order which nobody has decided on yet, or ErrNone.
func (t *Tx) OpenOrderRequest(order int64) (OrderRequest, error) {
	return one(t, openRequest, scanRequest, order)
}

// OrderRequests are all of an order, oldest first.
func (t *Tx) OrderRequests(order int64) ([]OrderRequest, error) {
	return list(t, requestsOf, scanRequest, order)
}

// OrderDecisions are those about an order, oldest first.
func (t *Tx) OrderDecisions(order int64) ([]OrderDecision, error) {
	return list(t, decisionsOfOrder, func(r row) (d OrderDecision, err error) {
		err = r.Scan(&d.Request, &d.Decision, &d.Net, &d.To, &d.ToName, &d.Note, &d.By, &d.ByName, &d.At)
		return
	}, order)
}

// OrderWaiting is an order that waits for an approver. To is whom it was passed on to, or zero.
type OrderWaiting struct {
	OrderRow
	By, To int64
}

// OrdersWaiting lists them, the oldest order first.
func (t *Tx) OrdersWaiting() ([]OrderWaiting, error) {
	return listCut(t, ordersWaiting, func(r row) (o OrderWaiting, err error) {
		err = r.Scan(append(o.columns(), &o.By, &o.To)...)
		return
	})
}
