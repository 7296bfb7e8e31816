package browser

import (
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"
)

// Effort holds a number of acts, a text typed in one go or a key each, against what docs/effort.md says of the work.
func Effort(t *testing.T, work string, acts int) {
	t.Helper()
	folder, err := root()
	require.NoError(t, err)
	text, err := os.ReadFile(filepath.Join(folder, "docs/effort.md"))
	require.NoError(t, err)
	row := regexp.MustCompile(`(?m)^\| ` + regexp.QuoteMeta(work) + ` \|.*\| (\d+) \|$`).FindSubmatch(text)
	require.NotNil(t, row, "docs/effort.md says nothing of %q, which took %d acts", work, acts)
	said, err := strconv.Atoi(string(row[1]))
	require.NoError(t, err)
	require.Equal(t, said, acts, "docs/effort.md, %s", work)
}
