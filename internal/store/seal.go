package store

import (
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"errors"
	"fmt"
	"maps"
	"net/url"
	"reflect"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// A seal ties every row that a transaction wrote to the audit row it ends with: the
// audit row names the rows and holds a hash of what they said, and is itself chained.
// A row that was changed, added or removed past the jobs no longer fits its seal.
//
// Rows that are written once share one hash (column seal). Rows that may be written
// again, masters and states, carry a hash each, and the last one counts.

// sealing says how the rows of a table are sealed: by how many leading columns a row is found (none: by its own key,
// id), whether it may be written again, and if so, whether it stays all the same.
type sealing struct {
	keys           int
	changes, stays bool
}

var sealings = map[string]sealing{
	// company and people
	"company":                  {keys: 1, changes: true},
	"person":                   {keys: 1, changes: true},
	"person_role":              {keys: 2, changes: true},
	"substitute":               {keys: 2, changes: true},
	"charge_kind":              {keys: 1, changes: true},
	"delivery_place":           {keys: 1, changes: true},
	"debit_account":            {keys: 1, changes: true},
	"delivery_place_receiver":  {keys: 2, changes: true},
	"self_billing_kept":        {keys: 1, changes: true},
	"person_mail":              {keys: 1, changes: true},
	"charge_kind_more":         {keys: 1, changes: true},
	"supplier_invoicer":        {keys: 2, changes: true},
	"supplier_charge":          {keys: 2, changes: true},
	"supplier_discount":        {keys: 1, changes: true},
	"supplier_code":            {keys: 2, changes: true},
	"exchange_rate":            {keys: 2, changes: true},
	"period":                   {keys: 1, changes: true},
	"period_state":             {keys: 1, changes: true},
	"period_change":            {},
	"budget":                   {keys: 1, changes: true},
	"budget_line":              {keys: 2, changes: true},
	"budget_plan":              {keys: 2, changes: true},
	"budget_group":             {keys: 1, changes: true},
	"chase_days":               {keys: 2, changes: true},
	"way_in":                   {keys: 1, changes: true},
	"invoice_keeper":           {keys: 1, changes: true},
	"notice_days":              {keys: 1, changes: true},
	"order_notice":             {keys: 1, changes: true},
	"paper_rule":               {keys: 2, changes: true},
	"kept_list_daily":          {keys: 1, changes: true},
	"budget_plan_month":        {keys: 3, changes: true},
	"budget_carry":             {},
	"company_budget":           {keys: 1, changes: true},
	"limit_rule":               {keys: 3, changes: true},
	"limit_owner":              {keys: 4, changes: true},
	"limit_trial":              {},
	"performance_weight":       {keys: 1, changes: true},
	"supplier_statement":       {},
	"supplier_statement_line":  {keys: 2},
	"supplier_statement_asked": {},
	"paper":                    {},
	"paper_part":               {keys: 2},
	"tax_code":                 {keys: 1, changes: true},
	"tax_code_rate":            {keys: 2, changes: true},
	// suppliers and items
	"supplier_tax":      {keys: 1, changes: true},
	"item_tax":          {keys: 1, changes: true},
	"supplier":          {keys: 1, changes: true},
	"supplier_group":    {keys: 1, changes: true},
	"supplier_member":   {keys: 1, changes: true},
	"item_member":       {keys: 1, changes: true},
	"supplier_address":  {keys: 2, changes: true},
	"supplier_account":  {keys: 2, changes: true},
	"contact":           {keys: 1, changes: true},
	"contact_supplier":  {keys: 2, changes: true},
	"supplier_note":     {keys: 2, changes: true},
	"supplier_decision": {},
	"item":              {keys: 1, changes: true},
	"item_supplier":     {keys: 2, changes: true},
	"item_unit":         {keys: 3, changes: true},
	"agreed_price":      {keys: 4, changes: true},
	// orders
	"purchase_order":      {keys: 1, changes: true, stays: true},
	"order_line":          {keys: 2, changes: true, stays: true},
	"order_charge":        {keys: 2, changes: true},
	"order_version":       {keys: 2},
	"order_import":        {keys: 2},
	"order_sending":       {},
	"sending_state":       {keys: 1, changes: true},
	"order_answer":        {},
	"order_draft":         {keys: 1, changes: true},
	"order_state":         {keys: 1, changes: true},
	"order_line_state":    {keys: 1, changes: true},
	"order_line_tax":      {keys: 1, changes: true},
	"order_request":       {},
	"order_decision":      {},
	"order_request_state": {keys: 1, changes: true},
	// receiving
	"notice":             {},
	"notice_line":        {keys: 2},
	"notice_state":       {keys: 1, changes: true},
	"arrival":            {},
	"arrival_state":      {keys: 1, changes: true},
	"delivery":           {},
	"receipt_line":       {},
	"receipt_lot":        {keys: 2},
	"return_lot":         {keys: 3},
	"delivery_photo":     {keys: 2},
	"line_close":         {},
	"line_close_invoice": {keys: 1},
	"invoice_final":      {keys: 1},
	// invoices and the ledger
	"invoice":          {},
	"invoice_revision": {},
	"invoice_line":     {},
	"invoice_order":    {keys: 4},
	"invoice_charge":   {keys: 2},
	"invoice_tax":      {keys: 2},
	"invoice_state":    {keys: 1, changes: true},
	"invoice_decision": {},
	"match_run":        {},
	"acceptance":       {},
	"acceptance_lapse": {keys: 1},
	"allocation":       {},
	// money ahead, and what moved outside runs
	"prepayment_kind":          {keys: 1, changes: true},
	"prepayment_agreement":     {},
	"prepayment_agreement_end": {keys: 1},
	"invoice_prepayment":       {keys: 1},
	"invoice_request":          {keys: 1},
	"prepayment_use":           {},
	"prepayment_use_end":       {keys: 1},
	"prepayment_taken":         {},
	"prepayment_taken_tax":     {keys: 3},
	"company_payment":          {keys: 1, changes: true},
	"company_interest":         {keys: 1, changes: true},
	"company_release":          {keys: 1, changes: true},
	"run_approval":             {keys: 1},
	"run_urgent":               {keys: 1},
	"invoice_due":              {},
	"supplier_steps":           {keys: 1, changes: true},
	"own_terms":                {},
	"invoice_payee":            {keys: 1, changes: true},
	"invoice_plan":             {keys: 1, changes: true},
	"netting":                  {},
	"netting_state":            {keys: 1, changes: true},
	"settlement":               {},
	"settlement_end":           {keys: 1},
	// credit notes
	"invoice_credit":        {keys: 1},
	"invoice_line_credit":   {keys: 1},
	"allocation_credit":     {keys: 1},
	"ledger_account":        {keys: 2, changes: true},
	"company_tax":           {keys: 1, changes: true},
	"invoice_addressee":     {keys: 1},
	"invoice_page":          {keys: 1},
	"invoice_line_tax":      {keys: 1},
	"invoice_tax_point":     {keys: 1},
	"invoice_line_note":     {keys: 2},
	"invoice_line_deferral": {keys: 1},
	"deferral_run":          {},
	"deferral_change":       {},
	"deferral_state":        {keys: 3, changes: true},
	// without an order
	"invoice_line_coding": {keys: 2},
	"invoice_approval":    {},
	"approval_pass":       {},
	// claims
	"claim":            {},
	"claim_line":       {},
	"claim_change":     {},
	"claim_state":      {keys: 1, changes: true},
	"allocation_claim": {keys: 1},
	"invoice_letter":   {},
	"letter_state":     {keys: 1, changes: true},
	"hold":             {},
	"hold_on":          {keys: 1},
	"hold_reason":      {keys: 1, changes: true},
	"kept_list":        {keys: 1, changes: true},
	"list_mail":        {},
	"list_mail_state":  {keys: 1, changes: true},
	"hold_end":         {keys: 1},
	"hold_state":       {keys: 1, changes: true},
	"entry":            {},
	"entry_line":       {keys: 2},
	// month's end
	"accrual":           {},
	"accrual_line":      {keys: 2},
	"accrual_end":       {keys: 1},
	"ledger_export":     {},
	"ledger_export_end": {keys: 1},
	// mails
	"mail":              {},
	"mail_part":         {keys: 2},
	"mail_decision":     {},
	"mail_state":        {keys: 1, changes: true},
	"mail_answer":       {},
	"mail_answer_state": {keys: 1, changes: true},
	// questions
	"question":       {},
	"question_step":  {keys: 2},
	"question_reply": {keys: 2},
	"question_state": {keys: 1, changes: true},
	// many at once
	"batch":         {keys: 1},
	"batch_state":   {keys: 1, changes: true},
	"batch_invoice": {keys: 2},
	// papers that were attached, and how a supplier knows us
	"attachment":           {},
	"attachment_end":       {keys: 1},
	"attachment_statement": {keys: 1},
	"sending_attachment":   {keys: 2},
	"enclosing":            {keys: 3, changes: true},
	"supplier_known":       {keys: 1, changes: true},
	"supplier_other_name":  {keys: 2, changes: true},
	// payments
	"payment_run":   {},
	"run_state":     {keys: 1, changes: true},
	"payment":       {},
	"payment_state": {keys: 1, changes: true},
	"payment_item":  {},
	"bank_answer":   {},

	"self_billing":           {},
	"self_billing_plan":      {keys: 1},
	"self_billing_run":       {},
	"order_line_self_billed": {keys: 1},
	"self_billed":            {keys: 1},

	"payment_letter":       {},
	"payment_letter_state": {keys: 1, changes: true},
	// what the bank says of our account
	"bank_statement":    {},
	"bank_line":         {},
	"bank_line_set":     {},
	"bank_line_set_end": {keys: 1},
	"bank_line_state":   {keys: 1, changes: true},
	"bank_booking":      {keys: 1, changes: true},
}

// guards are the triggers that refuse to change or remove what is written once, table by table.
func guards() []string {
	refuse := func(name, event, table, says string) string {
		return fmt.Sprintf(
			"CREATE TRIGGER IF NOT EXISTS %[1]s_%[2]s BEFORE %[3]s ON %[1]s BEGIN SELECT RAISE(ABORT, '%[1]s %[4]s'); END",
			table, name, event, says,
		)
	}
	all := []string{
		refuse("kept", "UPDATE", "audit", "is append-only"),
		refuse("stays", "DELETE", "audit", "is append-only"),
	}
	for _, table := range slices.Sorted(maps.Keys(sealings)) {
		s := sealings[table]
		if !s.changes {
			all = append(all, refuse("kept", "UPDATE", table, "is a booked fact"))
		}
		if !s.changes || s.stays {
			all = append(all, refuse("stays", "DELETE", table, "is a booked fact"))
		}
	}
	return all
}

// Unsealed are the tables that no seal covers, with what is in them or, where verify
// proves them otherwise, how.
var Unsealed = map[string]string{
	"audit":            Proved + "by its own chain",
	"series":           Proved + "by the highest number in use",
	"order_line_taken": Proved + "from the documents",
	"budget_taken":     Proved + "from the documents",
	"account_month":    Proved + "from the journal",
	"account_open":     Proved + "from the journal",
	"order_sum":        Proved + "from the orders",
	"supplier_paid":    Proved + "from the payments",
	"command_key":      "answers to repeated commands",
	"wake":             "invoices to match again",
	"finder":           "search index, made from the documents",
	"kept_list_empty":  "when a list was last not mailed, as there was nothing on it",
	"kept_sum":         "which sums were counted",
}

// Proved leads the reason of an unsealed table that is proved all the same.
const Proved = "proved "

// UnsealedColumns are columns of sealed tables that are left out.
var UnsealedColumns = map[string]string{
	"invoice_state.checked_at": "when an invoice was last matched without anything new",
}

// NotCovered lists what no verification proves, with what it holds.
func NotCovered() []string {
	names := []string{"sessions (a file of their own)"}
	for _, unsealed := range []map[string]string{Unsealed, UnsealedColumns} {
		for name, why := range unsealed {
			if !strings.HasPrefix(why, Proved) {
				names = append(names, fmt.Sprintf("%s (%s)", name, why))
			}
		}
	}
	slices.Sort(names)
	return names
}

// sealedInsert is a statement that writes whole rows of a sealed table.
type sealedInsert struct {
	table   string
	columns []string
	absent  []any  // per column: the value that the statement writes as NULL
	open    []bool // per column: it is left out
	sealing
}

var insertInto = regexp.MustCompile(`^INSERT INTO (\w+) \(([^)]*)\)\s+VALUES \(((?:[^()]|\([^()]*\))*)\)`)

// sealedBy reads which table and columns a statement writes, or nil where it writes
// none that is sealed. The statements are constants: one that cannot be sealed stops
// the program where it starts.
func sealedBy(text string) *sealedInsert {
	parts := insertInto.FindStringSubmatch(text)
	if parts == nil {
		return nil
	}
	how, ok := sealings[parts[1]]
	if !ok {
		return nil
	}
	s := &sealedInsert{table: parts[1], columns: strings.Split(parts[2], ","), sealing: how}
	values := strings.Split(strings.NewReplacer("nullif(?, 0)", "0", "nullif(?, '')", "''").Replace(parts[3]), ",")
	for i, v := range values {
		s.columns[i] = strings.TrimSpace(s.columns[i])
		s.open = append(s.open, UnsealedColumns[s.table+"."+s.columns[i]] != "")
		switch strings.TrimSpace(v) {
		case "?":
			s.absent = append(s.absent, nil)
		case "0":
			s.absent = append(s.absent, int64(0))
		case "''":
			s.absent = append(s.absent, "")
		default:
			panic("store: cannot seal " + text)
		}
	}
	return s
}

// key finds a row again: the leading values, or its own key.
func (s *sealedInsert) key(values []any, id int64) []any {
	if s.keys == 0 {
		return []any{id}
	}
	return values[:s.keys]
}

// seals are the rows that a transaction wrote since its last audit row.
type seals struct {
	names  []byte
	facts  []byte
	buffer []byte
}

// note seals a row that was just written.
func (s *seals) note(by *sealedInsert, args []any, id int64) error {
	if len(s.names) > 0 {
		s.names = append(s.names, ' ')
	}
	s.names = append(append(s.names, by.table...), ':')
	row := s.facts
	if by.changes {
		row = s.buffer[:0]
	}
	row = append(append(row, by.table...), 0)
	if by.keys == 0 {
		s.names = strconv.AppendInt(s.names, id, 10)
		row = sealValue(row, id)
	}
	for i := range by.keys {
		if i > 0 {
			s.names = append(s.names, '/')
		}
		key, err := valueOf(args[i])
		if err != nil {
			return err
		}
		s.names = append(s.names, keyText(key)...)
		row = sealValue(row, key)
	}
	for i, open := range by.open {
		if open {
			continue
		}
		v, err := valueOf(args[i])
		if err != nil {
			return err
		}
		if by.absent[i] != nil && v == by.absent[i] {
			v = nil
		}
		row = sealValue(row, v)
	}
	if !by.changes {
		s.facts = row
		return nil
	}
	s.buffer = row
	sum := sha256.Sum256(row)
	s.names = hex.AppendEncode(append(s.names, '='), sum[:16])
	return nil
}

// valueOf is a statement's operand as the database keeps it.
func valueOf(arg any) (any, error) {
	switch v := arg.(type) {
	case nil, int64, string, []byte:
		return v, nil
	case bool:
		if v {
			return int64(1), nil
		}
		return int64(0), nil
	}
	switch v := reflect.ValueOf(arg); v.Kind() {
	case reflect.Int, reflect.Int32, reflect.Int64:
		return v.Int(), nil
	case reflect.String:
		return v.String(), nil
	case reflect.Pointer:
		if v.IsNil() {
			return nil, nil
		}
		return valueOf(v.Elem().Interface())
	default:
		return nil, fmt.Errorf("store: cannot seal a %T", arg)
	}
}

func keyText(k any) string {
	if n, ok := k.(int64); ok {
		return strconv.FormatInt(n, 10)
	}
	return url.QueryEscape(fmt.Sprint(k))
}

// sealRow appends a row so that no two rows read alike: each value with its type and
// length.
func sealRow(to []byte, table string, key, values []any) []byte {
	to = append(append(to, table...), 0)
	for _, v := range key {
		to = sealValue(to, v)
	}
	for _, v := range values {
		to = sealValue(to, v)
	}
	return to
}

func sealValue(to []byte, v any) []byte {
	switch v := v.(type) {
	case nil:
		return append(to, 'n')
	case int64:
		return binary.BigEndian.AppendUint64(append(to, 'i'), uint64(v))
	case string:
		return append(binary.BigEndian.AppendUint64(append(to, 't'), uint64(len(v))), v...)
	case []byte:
		return append(binary.BigEndian.AppendUint64(append(to, 'b'), uint64(len(v))), v...)
	default:
		return fmt.Appendf(to, "?%v", v) // no column of a strict table holds such
	}
}

// take ends the seal: the names of the rows, and the hash of those written once.
func (s *seals) take() (names, seal string) {
	names = string(s.names)
	if len(s.facts) > 0 {
		sum := sha256.Sum256(s.facts)
		seal = hex.EncodeToString(sum[:])
	}
	s.names, s.facts = s.names[:0], s.facts[:0]
	return
}

// errUnsealed refuses a transaction that wrote rows without an audit row after them.
var errUnsealed = errors.New("store: rows were written that no audit row names")

// Broken is a row that does not fit its seal. Audit is the record's row that named it
// last, or zero.
type Broken struct {
	Row, What string
	Audit     int64
}

// Seals checks rows against the record, in the order of the record.
type Seals struct {
	tx     *Tx
	tables map[string]*sealedTable
	Broken []Broken
}

type sealedTable struct {
	*sealedInsert
	read  *query
	count *query
	all   *query
	keys  map[string]struct{}
	last  map[string]sealedState
}

type sealedState struct {
	hash  string
	audit int64
}

// The statements that check are made of those that write.
var sealedTables = map[string]*sealedTable{}

func addSealed(by *sealedInsert) {
	var columns []string
	for i, c := range by.columns {
		if !by.open[i] {
			columns = append(columns, c)
		}
	}
	found := []string{"id"}
	if by.keys > 0 {
		found = by.columns[:by.keys]
	}
	sealedTables[by.table] = &sealedTable{sealedInsert: by,
		read: statement(
			fmt.Sprintf(
				`SELECT %s FROM %s WHERE %s = ?`,
				strings.Join(columns, ", "),
				by.table,
				strings.Join(found, " = ? AND "),
			),
		),
		count: proof(`SELECT count(*) FROM ` + by.table),
		all: proof(
			fmt.Sprintf(
				`SELECT %s FROM %s ORDER BY %s`,
				strings.Join(found, ", "),
				by.table,
				strings.Join(found, ", "),
			),
		)}
}

// CheckSeals begins to check; give it every audit row in order, then Finish.
func (t *Tx) CheckSeals() *Seals {
	s := &Seals{tx: t, tables: map[string]*sealedTable{}}
	for name, table := range sealedTables {
		own := *table
		own.keys, own.last = map[string]struct{}{}, map[string]sealedState{}
		s.tables[name] = &own
	}
	return s
}

func (s *Seals) broken(row, what string, audit int64) {
	s.Broken = append(s.Broken, Broken{row, what, audit})
}

// Check checks the rows written once that an audit row names, and remembers the hash
// of those that may be written again.
func (s *Seals) Check(a AuditRow) error {
	var facts []byte
	for name := range strings.FieldsSeq(a.Sealed) {
		table, rest, _ := strings.Cut(name, ":")
		t := s.tables[table]
		if t == nil {
			s.broken(name, "is named by the record and of no known kind", a.Seq)
			continue
		}
		key, hash, _ := strings.Cut(rest, "=")
		if t.changes {
			t.last[key] = sealedState{hash, a.Seq}
			continue
		}
		t.keys[key] = struct{}{}
		row, err := s.row(t, key)
		switch {
		case errors.Is(err, ErrNone):
			s.broken(name, "is gone", a.Seq)
		case err != nil:
			return err
		}
		facts = append(facts, row...)
	}
	if seal := sha256.Sum256(facts); (len(facts) > 0 || a.Seal != "") && a.Seal != hex.EncodeToString(seal[:]) {
		s.broken(fmt.Sprintf("%s %s", a.Subject, a.Number), "does not say any more what was recorded", a.Seq)
	}
	return nil
}

// row reads a row as it is sealed.
func (s *Seals) row(t *sealedTable, key string) ([]byte, error) {
	parts := strings.Split(key, "/")
	keys := make([]any, len(parts))
	for i, p := range parts {
		text, err := url.QueryUnescape(p)
		if err != nil {
			return nil, ErrNone
		}
		keys[i] = text
		if n, err := strconv.ParseInt(text, 10, 64); err == nil &&
			strconv.FormatInt(n, 10) == text { // a code like 007 stays text
			keys[i] = n
		}
	}
	return one(s.tx, t.read, func(r row) ([]byte, error) {
		values := make([]any, 0, len(t.columns))
		for _, open := range t.open {
			if !open {
				values = append(values, new(any))
			}
		}
		if err := r.Scan(values...); err != nil {
			return nil, err
		}
		for i := range values {
			values[i] = *values[i].(*any)
		}
		return sealRow(nil, t.table, t.key(values, firstInt(keys)), values), nil
	}, keys...)
}

func firstInt(keys []any) int64 {
	n, _ := keys[0].(int64) // tables found by their own key have a number there
	return n
}

// Finish checks the rows that may be written again against the last that the record
// says of them, and that no row is there which the record does not name.
func (s *Seals) Finish() error {
	for name, t := range s.tables {
		for key, state := range t.last {
			row, err := s.row(t, key)
			sum := sha256.Sum256(row)
			switch {
			case errors.Is(err, ErrNone):
				s.broken(name+":"+key, "is gone", state.audit)
			case err != nil:
				return err
			case hex.EncodeToString(sum[:16]) != state.hash:
				s.broken(name+":"+key, "does not say any more what was recorded", state.audit)
			}
		}
		if err := s.strangers(name, t); err != nil {
			return err
		}
	}
	return nil
}

func (s *Seals) strangers(name string, t *sealedTable) error {
	count, err := s.tx.number(t.count)
	if err != nil || count == int64(len(t.keys)+len(t.last)) {
		return err
	}
	keys, err := list(s.tx, t.all, func(r row) (string, error) {
		values := make([]any, max(1, t.sealing.keys))
		for i := range values {
			values[i] = new(any)
		}
		err := r.Scan(values...)
		var text []string
		for _, v := range values {
			text = append(text, keyText(*v.(*any)))
		}
		return strings.Join(text, "/"), err
	})
	for _, key := range keys {
		_, fact := t.keys[key]
		if _, state := t.last[key]; !fact && !state {
			s.broken(name+":"+key, "is there, and no command wrote it", 0)
		}
	}
	return err
}
