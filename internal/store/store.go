// Package store keeps Lagoon's facts and states in one SQLite file. It decides
// nothing: rules stand in core, jobs put them together.
package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"slices"
	"sync"
	"time"

	"github.com/pressly/goose/v3"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNone says that there is no such row.
var ErrNone = errors.New("store: no such row")

// Store is the open file: one writer, several readers.
type Store struct {
	path               string
	writer, reader     *sql.DB
	writing, reading   sync.Mutex
	written, readCache map[*query]*sql.Stmt
	watch              func(statement string, args []any)
	turn               chan struct{} // to write, until what is known then is known to the next
	knowing            sync.Mutex
	known              memo
	key                SealKey
	slow               func(statement string, took time.Duration)
}

// slowStatement is how long a statement may take before it is told.
const slowStatement = 200 * time.Millisecond

// Path is the file that the store keeps everything in.
func (s *Store) Path() string { return s.path }

// TellSlow tells every statement that takes long; set it before the store is used.
func (s *Store) TellSlow(tell func(statement string, took time.Duration)) { s.slow = tell }

// Readers is how many connections read beside the writer.
const readers = 6

// What the connections keep of the file in memory, in KiB: 80 MiB for all of them together.
const (
	writerCache = "&_cache_size=-32768"
	readerCache = "&_cache_size=-8192"
)

// Open opens the file, creating and migrating it as needed. What is written and acknowledged outlives a fall of the
// machine.
func Open(ctx context.Context, path string) (*Store, error) { return open(ctx, path, "FULL") }

// OpenUnsynced opens the file without waiting for the disk at each commit: what is written outlives the program, but
// not a fall of the machine. It is for data that can be made again.
func OpenUnsynced(ctx context.Context, path string) (*Store, error) { return open(ctx, path, "OFF") }

func open(ctx context.Context, path, synchronous string) (*Store, error) {
	base := source(path) + "&_foreign_keys=1"
	writer, err := sql.Open("sqlite3", base+writerCache+"&_journal_mode=WAL&_txlock=immediate&_synchronous="+synchronous)
	if err != nil {
		return nil, err
	}
	writer.SetMaxOpenConns(1)
	if err := checkSchema(ctx, writer, schemaMarks()); err != nil {
		return nil, errors.Join(fmt.Errorf("%s: %w", path, err), writer.Close())
	}
	if err := errors.Join(migrate(ctx, writer), markSchema(ctx, writer)); err != nil {
		return nil, errors.Join(fmt.Errorf("store: %s: %w", path, err), writer.Close())
	}
	reader, err := sql.Open("sqlite3", base+readerCache+"&_query_only=1")
	if err != nil {
		return nil, errors.Join(err, writer.Close())
	}
	s := newStore(path, writer, reader)
	if err := s.countSums(ctx); err != nil {
		return nil, errors.Join(fmt.Errorf("store: %s: %w", path, err), s.Close())
	}
	return s, nil
}

func newStore(path string, writer, reader *sql.DB) *Store {
	reader.SetMaxOpenConns(readers)
	reader.SetMaxIdleConns(readers)
	return &Store{
		path:      path,
		writer:    writer,
		reader:    reader,
		turn:      make(chan struct{}, 1),
		written:   map[*query]*sql.Stmt{},
		readCache: map[*query]*sql.Stmt{},
	}
}

// OpenToRead opens the file to be looked at and changes nothing of it, also where the folder
// may not be written.
func OpenToRead(ctx context.Context, path string) (*Store, error) {
	var failed error
	for _, how := range []string{"&mode=ro", "&mode=ro&immutable=1"} { // the second where no log can be kept beside it
		if how != "&mode=ro" {
			if log, err := os.Stat(path + "-wal"); err == nil && log.Size() > 0 {
				break // what its log holds would not be seen
			}
		}
		reader, err := sql.Open("sqlite3", source(path)+"&_foreign_keys=1"+readerCache+"&_query_only=1"+how)
		if err != nil {
			return nil, err
		}
		if failed = checkSchema(ctx, reader, []int32{schemaMark()}); failed == nil {
			return newStore(path, nil, reader), nil
		}
		failed = errors.Join(fmt.Errorf("%s: %w", path, failed), reader.Close())
		if errors.Is(failed, ErrOtherSchema) {
			break
		}
	}
	return nil, failed
}

// source names a file to the driver. A connection is used by one goroutine at a time, so
// SQLite need not guard it again.
func source(path string) string {
	return "file:" + (&url.URL{Path: path}).EscapedPath() + "?_busy_timeout=5000&_mutex=no"
}

func migrate(ctx context.Context, db *sql.DB) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectSQLite3, db, files)
	if err != nil {
		return err
	}
	if _, err := provider.Up(ctx); err != nil {
		return err
	}
	for _, guard := range guards() {
		if _, err := db.ExecContext(ctx, guard); err != nil {
			return err
		}
	}
	return nil
}

// Close ends all connections.
func (s *Store) Close() error {
	if s.writer == nil {
		return s.reader.Close()
	}
	return errors.Join(s.reader.Close(), s.writer.Close())
}

// Tx is one transaction. It must not be used after the function it was given to.
type Tx struct {
	ctx     context.Context
	tx      *sql.Tx
	stmts   func(*query) (*sql.Stmt, error)
	seals   seals
	takings takings
	memo    memo
	leftOut int64
	// outlasts says that what the transaction knows holds once it is committed.
	outlasts bool
	watch    func(statement string, args []any)
	slow     func(statement string, took time.Duration)
	key      SealKey
}

// timed tells a statement that took long.
func (t *Tx) timed(q *query, since time.Time) {
	if took := time.Since(since); t.slow != nil && took >= slowStatement && !q.proof {
		t.slow(q.text, took)
	}
}

// Write runs do in one writing transaction: all of it is kept, or nothing where do fails.
func (s *Store) Write(ctx context.Context, do func(*Tx) error) error {
	select {
	case s.turn <- struct{}{}:
		defer func() { <-s.turn }()
	case <-ctx.Done():
		return ctx.Err()
	}
	return s.run(ctx, s.writer, nil, &s.writing, s.written, func(t *Tx) error {
		if t.watch != nil {
			t.watch(Begin, nil)
		}
		if err := do(t); err != nil {
			return err
		}
		if err := t.countTaken(); err != nil {
			return err
		}
		t.outlasts = true
		return nil
	})
}

// Read runs do on one unchanging state of the data.
func (s *Store) Read(ctx context.Context, do func(*Tx) error) error {
	return s.run(ctx, s.reader, &sql.TxOptions{ReadOnly: true}, &s.reading, s.readCache, do)
}

func (s *Store) run(
	ctx context.Context,
	db *sql.DB,
	options *sql.TxOptions,
	lock *sync.Mutex,
	cache map[*query]*sql.Stmt,
	do func(*Tx) error,
) error {
	tx, err := db.BeginTx(ctx, options)
	if err != nil {
		return err
	}
	defer func() { _ = tx.Rollback() }() // nothing to do once committed
	mine := map[*query]*sql.Stmt{}
	var first []*query // that no transaction used before
	prepare := func(q *query) (*sql.Stmt, error) {
		if own, ok := mine[q]; ok {
			return own, nil
		}
		lock.Lock()
		stmt, ok := cache[q]
		lock.Unlock()
		if ok {
			mine[q] = tx.StmtContext(ctx, stmt)
			return mine[q], nil
		}
		// Prepared on this transaction's connection, so that the one writer never waits for itself.
		own, err := tx.PrepareContext(ctx, q.text)
		if err != nil {
			return nil, fmt.Errorf("store: %w in %s", err, q.text)
		}
		mine[q], first = own, append(first, q)
		return own, nil
	}
	// A statement runs to its end: the driver would start a goroutine for each that can be
	// called off. Between statements the transaction itself ends with the context.
	t := &Tx{ctx: context.WithoutCancel(ctx), tx: tx, stmts: prepare, watch: s.watch, slow: s.slow, key: s.key}
	s.knowing.Lock()
	t.memo = s.known
	s.knowing.Unlock()
	if err := do(t); err != nil {
		return err
	}
	if len(t.seals.names) > 0 {
		return errUnsealed
	}
	end := tx.Commit
	if options != nil && options.ReadOnly {
		end = tx.Rollback // nothing was written, and a file with a damaged page cannot commit even that
	}
	err = end()
	for _, q := range first { // the next transaction need not prepare it again; where that fails, it will say why
		if stmt, err := db.PrepareContext(ctx, q.text); err == nil {
			lock.Lock()
			cache[q] = stmt
			lock.Unlock()
		}
	}
	if err == nil && t.outlasts {
		t.memo.suppliers, t.memo.invoices, t.memo.numbers = nil, nil, nil
		s.knowing.Lock()
		s.known = t.memo
		s.knowing.Unlock()
	}
	return err
}

// Prepare makes every statement ready for reuse before its first use; a statement that does
// not fit the schema is an error here and not later at a person's desk.
func (s *Store) Prepare(ctx context.Context) error {
	for _, pool := range []struct {
		db    *sql.DB
		lock  *sync.Mutex
		cache map[*query]*sql.Stmt
	}{{s.writer, &s.writing, s.written}, {s.reader, &s.reading, s.readCache}} {
		for _, q := range queries {
			stmt, err := pool.db.PrepareContext(ctx, q.text)
			if err != nil {
				return fmt.Errorf("store: %w in %s", err, q.text)
			}
			pool.lock.Lock()
			pool.cache[q] = stmt
			pool.lock.Unlock()
		}
	}
	return nil
}

var (
	savepoint  = statement(`SAVEPOINT part`)
	rollBackTo = statement(`ROLLBACK TO part`)
	release    = statement(`RELEASE part`)
)

// Part runs do as a part of the transaction: where it fails, what it wrote is undone
// and the rest stands. Failed is what do gave; err says that the transaction cannot go
// on, and must be given up with everything in it.
func (t *Tx) Part(do func() error) (failed, err error) {
	if err := t.do(savepoint); err != nil {
		return nil, err
	}
	before, known := seals{names: slices.Clone(t.seals.names), facts: slices.Clone(t.seals.facts)}, t.memo
	if failed = do(); failed != nil {
		if err := t.do(rollBackTo); err != nil {
			return failed, err
		}
		t.seals, t.memo = before, known
		t.memo.invoices, t.memo.numbers = nil, nil // row keys of what was rolled back are given again
	}
	return failed, t.do(release)
}

// query is one statement of the store, registered so that all can be prepared and tested.
type query struct {
	text   string
	sealed *sealedInsert
	proof  bool
}

var queries []*query

func statement(text string) *query {
	q := &query{text: text, sealed: sealedBy(text)}
	queries = append(queries, q)
	if q.sealed != nil && sealedTables[q.sealed.table] == nil {
		addSealed(q.sealed)
	}
	return q
}

// proof is a statement that reads all there is, to verify or sum it up. No person waits
// for one at a list.
func proof(text string) *query {
	q := statement(text)
	q.proof = true
	return q
}

func (t *Tx) exec(q *query, args ...any) (int64, error) {
	stmt, err := t.stmts(q)
	if err != nil {
		return 0, err
	}
	if t.watch != nil {
		t.watch(q.text, args)
	}
	defer t.timed(q, time.Now())
	result, err := stmt.ExecContext(t.ctx, args...)
	if err != nil {
		return 0, fmt.Errorf("store: %w in %s", err, q.text)
	}
	id, err := result.LastInsertId()
	if err == nil && q.sealed != nil {
		err = t.seals.note(q.sealed, args, id)
	}
	return id, err
}

func (t *Tx) do(q *query, args ...any) error {
	_, err := t.exec(q, args...)
	return err
}

type row interface{ Scan(...any) error }

// one reads a single row, or ErrNone.
func one[T any](t *Tx, q *query, scan func(row) (T, error), args ...any) (T, error) {
	var none T
	stmt, err := t.stmts(q)
	if err != nil {
		return none, err
	}
	defer t.timed(q, time.Now())
	value, err := scan(stmt.QueryRowContext(t.ctx, args...))
	if errors.Is(err, sql.ErrNoRows) {
		return none, ErrNone
	}
	if err != nil {
		return none, fmt.Errorf("store: %w in %s", err, q.text)
	}
	return value, nil
}

// list reads all rows.
func list[T any](t *Tx, q *query, scan func(row) (T, error), args ...any) ([]T, error) {
	stmt, err := t.stmts(q)
	if err != nil {
		return nil, err
	}
	defer t.timed(q, time.Now())
	rows, err := stmt.QueryContext(t.ctx, args...)
	if err != nil {
		return nil, fmt.Errorf("store: %w in %s", err, q.text)
	}
	defer rows.Close() //nolint:errcheck // reported by rows.Err
	var values []T
	for rows.Next() {
		value, err := scan(rows)
		if err != nil {
			return nil, fmt.Errorf("store: %w in %s", err, q.text)
		}
		values = append(values, value)
	}
	return values, rows.Err()
}

func scanOne[T any](r row) (T, error) {
	var v T
	err := r.Scan(&v)
	return v, err
}

// number reads one whole number, zero where there is no row.
func (t *Tx) number(q *query, args ...any) (int64, error) {
	n, err := one(t, q, scanOne[int64], args...)
	if errors.Is(err, ErrNone) {
		return 0, nil
	}
	return n, err
}

var (
	seriesNext = statement(`SELECT next FROM series WHERE kind = ?`)
	putSeries  = statement(
		`INSERT INTO series (kind, next) VALUES (?, ?) ON CONFLICT (kind) DO UPDATE SET next = excluded.next`,
	)
)

// The number series.
const (
	OrderSeries      = "order"
	DeliverySeries   = "delivery"
	InvoiceSeries    = "invoice"
	HoldSeries       = "hold"
	EntrySeries      = "entry"
	RunSeries        = "run"
	PaymentSeries    = "payment"
	DraftSeries      = "draft"
	NoticeSeries     = "notice"
	ArrivalSeries    = "arrival"
	ClaimSeries      = "claim"
	MailSeries       = "mail"
	QuestionSeries   = "question"
	AttachmentSeries = "attachment"
	BatchSeries      = "batch"
	AheadSeries      = "agreement"
	SettledSeries    = "settlement"
	BankSeries       = "statement"
	ListSeries       = "list"
	TrialSeries      = "trial"
	GroupSeries      = "supplier group"
	StatementSeries  = "supplier statement"
	AccrualSeries    = "accrual"
	ExportSeries     = "ledger export"
)

var firstNumber = map[string]int64{OrderSeries: 4001, DeliverySeries: 7001, InvoiceSeries: 1001, RunSeries: 301}

// NextNumber takes the next number of a series; a transaction that fails gives it back.
func (t *Tx) NextNumber(series string) (int64, error) {
	next, err := t.FreeNumber(series)
	if err != nil {
		return 0, err
	}
	return next, t.do(putSeries, series, next+1)
}

// FreeNumber is what NextNumber would give out now.
func (t *Tx) FreeNumber(series string) (int64, error) {
	next, err := one(t, seriesNext, scanOne[int64], series)
	if errors.Is(err, ErrNone) {
		return max(1, firstNumber[series]), nil
	}
	return next, err
}

// Begin is what Watch is told at the start of each writing transaction.
const Begin = "BEGIN"

// Watch tells every statement that writes, with its values; for benchmarks that write
// the same without Lagoon. Watch before the store is used.
func (s *Store) Watch(seen func(statement string, args []any)) { s.watch = seen }

// Schema is what the file is made of; for tests that try every part of it.
type Schema struct {
	Columns  map[string][]string // by table
	Triggers []string
}

// Tables reads the schema.
func (s *Store) Tables(ctx context.Context) (Schema, error) {
	schema := Schema{Columns: map[string][]string{}}
	rows, err := s.writer.QueryContext(
		ctx,
		`SELECT t.name, c.name FROM pragma_table_list t JOIN pragma_table_info(t.name) c
		WHERE t.schema = 'main' AND t.type IN ('table', 'virtual')
		AND t.name NOT LIKE 'sqlite_%' AND t.name NOT LIKE 'goose_%' AND t.name NOT LIKE 'finder_%'
		UNION ALL SELECT name, '' FROM sqlite_schema WHERE type = 'trigger'`,
	)
	if err != nil {
		return schema, err
	}
	defer rows.Close() //nolint:errcheck // reported by rows.Err
	for rows.Next() {
		var table, column string
		if err := rows.Scan(&table, &column); err != nil {
			return schema, err
		}
		if column == "" {
			schema.Triggers = append(schema.Triggers, table)
		} else {
			schema.Columns[table] = append(schema.Columns[table], column)
		}
	}
	return schema, rows.Err()
}
