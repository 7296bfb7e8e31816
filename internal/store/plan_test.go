package store

import (
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// Tables that stay small however much is booked.
var small = map[string]bool{
	"charge_kind": true,
	"series":      true, "account_month": true,
	"charge_kind_more": true,
	"prepayment_kind":  true,
	"self_billing":     true, "self_billing_plan": true,
	"ledger_account":   true,
	"company_tax":      true,
	"company_payment":  true,
	"company_interest": true, "company_release": true,
	"company":        true,
	"person":         true,
	"person_role":    true,
	"period":         true,
	"budget":         true,
	"tax_code":       true,
	"tax_code_rate":  true,
	"hold_reason":    true,
	"kept_list":      true,
	"supplier_group": true, "performance_weight": true,
	"budget_plan": true, "budget_group": true, "budget_plan_month": true, "budget_carry": true, "company_budget": true,
	"chase_days": true, "way_in": true, "delivery_place": true, "debit_account": true, "delivery_place_receiver": true, "self_billing_kept": true, "invoice_keeper": true, "notice_days": true, "order_notice": true, "paper_rule": true, "kept_list_daily": true, "kept_list_empty": true, "kept_sum": true, "budget_taken": true,
	"wake":     true,
	"CONSTANT": true,
}

// Indexes of open work only.
var openWork = regexp.MustCompile(`INDEX (order_request_open|hold_open|order_expected|sending_waiting|letter_waiting|answer_waiting|mail_open|bank_line_open|bank_booking_open|bank_line_aside|advice_waiting|list_mail_waiting|deferral_open)\b`)

// What sorts or groups the rows of one document only.
var ofOneDocument = regexp.MustCompile(
	`^(SEARCH \w+ USING ((INTEGER )?PRIMARY KEY|(COVERING )?INDEX \w+) \((rowid|purchase_order|order_line|invoice|invoice_revision|revision|receipt_line|bill|number_key|credit_note|prepayment)=\?)`,
)

// What most rows may have alike: who looks for it alone reads them all.
var ofMost = regexp.MustCompile(`\((role|kind|document|currency|unit)=\?\)`)

// No statement that a person waits for reads a growing table from end to end or sorts all of it: it finds rows by a
// key, or walks an index in the order it wants and stops at its limit.
func TestNothingIsReadWhole(t *testing.T) {
	s := fresh(t)
	seen := 0
	for _, q := range queries {
		if q.proof || !strings.HasPrefix(q.text, "SELECT") {
			continue
		}
		seen++
		plan := planOf(t, s, q.text)
		walks := strings.Contains(q.text, "ORDER BY") && strings.Contains(q.text, "LIMIT")
		for _, step := range plan {
			words := strings.Fields(step)
			if q == numbersAsLong {
				require.Contains(t, []string{"SCAN", "SEARCH"}, words[0]) // numbers like one: all of them are looked at, once a page is asked for
				continue
			}
			if strings.Contains(q.text, "account_open") { // what is open of an account, and what was posted after a day
				require.NotRegexp(t, `SCAN [a-z]`, step, q.text)
				continue
			}
			if words[0] == "SCAN" && !small[tableOf(q.text, words[1])] && !strings.HasPrefix(words[1], "finder") && !openWork.MatchString(step) {
				require.True(t, walks, "%s\n%s", q.text, strings.Join(plan, "\n"))
			}
			if strings.HasPrefix(step, "USE TEMP B-TREE") {
				require.Regexp(t, ofOneDocument, plan[0], "%s\n%s", q.text, strings.Join(plan, "\n"))
				require.False(t, walks, "%s\n%s", q.text, strings.Join(plan, "\n"))
			}
			require.NotContains(t, step, "AUTOMATIC", q.text)
			if words[0] == "SEARCH" && !small[tableOf(q.text, words[1])] && q != bankBefore { // from before statements were read
				require.NotRegexp(t, ofMost, step, "%s\n%s", q.text, strings.Join(plan, "\n"))
			}
		}
	}
	require.Greater(t, seen, 80)
	require.Contains(t, strings.Join(planOf(t, s, `SELECT * FROM invoice ORDER BY source`), "\n"), "TEMP B-TREE", "a plan that sorts all is seen")
}

// What proves the books is asked for each document: as with all others, it reads no growing table whole, nor all that has one state or
// stands on one account. What is asked once may.
func TestNoProofReadsAllForEach(t *testing.T) {
	s := fresh(t)
	seen := 0
	for _, q := range queries {
		if !q.proof || !strings.HasPrefix(q.text, "SELECT") || !strings.Contains(q.text, "?") || q == uninvoicedAt || q == hasHash {
			continue // what may be accrued is asked of a month, and a head of the record where somebody gives one
		}
		seen++
		plan := planOf(t, s, q.text)
		for _, step := range plan {
			words := strings.Fields(step)
			walks := strings.Contains(q.text, "ORDER BY") && strings.Contains(q.text, "LIMIT")
			if words[0] == "SCAN" && !small[tableOf(q.text, words[1])] && !openWork.MatchString(step) {
				require.True(t, walks, "%s\n%s", q.text, strings.Join(plan, "\n"))
			}
			require.NotRegexp(t, ofMost, step, "%s\n%s", q.text, strings.Join(plan, "\n"))
		}
	}
	require.Greater(t, seen, 20)
}

func planOf(t *testing.T, s *Store, text string) []string {
	t.Helper()
	most := 0
	for _, n := range regexp.MustCompile(`\?(\d?)`).FindAllStringSubmatch(text, -1) {
		if n[1] == "" {
			most++
		} else {
			most = max(most, int(n[1][0]-'0'))
		}
	}
	rows, err := s.writer.Query(`EXPLAIN QUERY PLAN `+text, make([]any, most)...)
	require.NoError(t, err, text)
	var plan []string
	for rows.Next() {
		var id, parent, unused int
		var detail string
		require.NoError(t, rows.Scan(&id, &parent, &unused, &detail))
		plan = append(plan, detail)
	}
	require.NoError(t, rows.Err())
	return plan
}

// tableOf finds which table an alias of a plan names.
func tableOf(text, alias string) string {
	if m := regexp.MustCompile(`(?:FROM|JOIN) (\w+) ` + alias + `\b`).FindStringSubmatch(text); m != nil {
		return m[1]
	}
	return alias
}
