package store

// This file keeps the groups that suppliers and items belong to.

import (
	"encoding/json"
	"errors"

	"lagoon/internal/core/trade"
)

// SupplierGroup is a group of suppliers with what it proposes where one is made in it.
type SupplierGroup struct {
	ID                     int64
	Name                   string
	Terms                  *trade.Terms // nil: none are proposed
	Level                  trade.Level
	Budget                 string
	Payables, PayablesName string // number and name of the account that what they are owed is on
	Ended                  bool
	Members                int64
}

const supplierGroupColumns = `SELECT g.id, g.name, g.terms, g.match_level, coalesce(g.budget, ''), g.payables, g.payables_name, g.ended,
	(SELECT count(*) FROM supplier_member m WHERE m.supplier_group = g.id) FROM supplier_group g `

var (
	supplierGroups = statement(supplierGroupColumns + `ORDER BY g.name`)
	supplierGroup  = statement(supplierGroupColumns + `WHERE g.id = ?`)
	groupOf        = statement(supplierGroupColumns + `JOIN supplier_member m ON m.supplier_group = g.id WHERE m.supplier = ?`)
	putGroup       = statement(
		`INSERT INTO supplier_group (id, name, terms, match_level, budget, payables, payables_name, ended)
		VALUES (?, ?, ?, ?, nullif(?, ''), ?, ?, ?)
		ON CONFLICT (id) DO UPDATE SET name = excluded.name, terms = excluded.terms, match_level = excluded.match_level,
		budget = excluded.budget, payables = excluded.payables, payables_name = excluded.payables_name, ended = excluded.ended`,
	)
	putMember = statement(
		`INSERT INTO supplier_member (supplier, supplier_group) VALUES (?, nullif(?, 0))
		ON CONFLICT (supplier) DO UPDATE SET supplier_group = excluded.supplier_group`,
	)
	putItemGroup = statement(
		`INSERT INTO item_member (item, name) VALUES (?, ?) ON CONFLICT (item) DO UPDATE SET name = excluded.name`,
	)
	itemGroup  = statement(`SELECT name FROM item_member WHERE item = ?`)
	itemGroups = statement(`SELECT DISTINCT name FROM item_member WHERE name <> '' ORDER BY name LIMIT 500`)
)

func scanGroup(r row) (g SupplierGroup, err error) {
	var terms string
	if err = r.Scan(&g.ID, &g.Name, &terms, &g.Level, &g.Budget, &g.Payables, &g.PayablesName, &g.Ended, &g.Members); err == nil && terms != "" {
		err = json.Unmarshal([]byte(terms), &g.Terms)
	}
	return
}

// SupplierGroups are all groups of suppliers, by name.
func (t *Tx) SupplierGroups() ([]SupplierGroup, error) { return list(t, supplierGroups, scanGroup) }

// SupplierGroup reads one by its key, or gives ErrNone.
func (t *Tx) SupplierGroup(id int64) (SupplierGroup, error) {
	return one(t, supplierGroup, scanGroup, id)
}

// GroupOf is the group that a supplier is in, or ErrNone.
func (t *Tx) GroupOf(supplier int64) (SupplierGroup, error) {
	return one(t, groupOf, scanGroup, supplier)
}

// PutSupplierGroup writes a group under its key.
func (t *Tx) PutSupplierGroup(g SupplierGroup) error {
	terms := ""
	if g.Terms != nil {
		data, err := json.Marshal(g.Terms)
		if err != nil {
			return err
		}
		terms = string(data)
	}
	return t.do(putGroup, g.ID, g.Name, terms, g.Level, g.Budget, g.Payables, g.PayablesName, g.Ended)
}

// PutMember puts a supplier into a group; zero: into none.
func (t *Tx) PutMember(supplier, group int64) error { return t.do(putMember, supplier, group) }

// PutItemGroup says in which group an item is; empty: in none.
func (t *Tx) PutItemGroup(item int64, name string) error { return t.do(putItemGroup, item, name) }

// ItemGroup is the group that an item is in, or empty.
func (t *Tx) ItemGroup(item int64) (string, error) {
	name, err := one(t, itemGroup, scanOne[string], item)
	if errors.Is(err, ErrNone) {
		err = nil
	}
	return name, err
}

// ItemGroups are the groups that items are in, by name.
func (t *Tx) ItemGroups() ([]string, error) { return list(t, itemGroups, scanOne[string]) }
