package prove

// This file takes the head of the record out of the file regularly, and proves what a key
// outside the file sealed. Who has the file alone could write the record anew; a head that was
// kept elsewhere, and a key that was, tell it.

import (
	"fmt"
	"regexp"
	"slices"

	"lagoon/internal/store"
)

// sealForm is how a code that a key made is written.
var sealForm = regexp.MustCompile(`^[0-9a-f]{64}$`)

// keyed follows the keys of the record's rows.
type keyed struct {
	sealed  bool
	before  int // rows before the first that a key sealed
	unknown map[string]int
}

// see checks one row, and says what is wrong with it.
func (k *keyed) see(row store.AuditRow, key store.SealKey) string {
	switch {
	case (row.Key == "") != (row.MAC == ""), row.Key != "" && !sealForm.MatchString(row.MAC):
		return "carries a seal that no key has made"
	case row.Key == "" && k.sealed:
		return "is not sealed with a key, although rows before it are"
	case row.Key == "":
		k.before++
		return ""
	case row.Key != key.Name():
		k.unknown[row.Key]++
	case row.MAC != key.MAC(row.Hash):
		return "was not sealed with the key: it was written by somebody who has the file alone"
	}
	k.sealed = true
	return ""
}

func (k *keyed) unproven(key store.SealKey) []string {
	var said []string
	for name, n := range k.unknown {
		said = append(
			said,
			fmt.Sprintf("%d rows of the record are sealed with the key %s, which was not given", n, name),
		)
	}
	slices.Sort(said)
	if len(key) > 0 && k.before > 0 {
		said = append(said, fmt.Sprintf("%d rows were recorded before there was a key", k.before))
	}
	return said
}
