package bounded

import (
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
)

func TestWhatIsTooLargeIsNotRead(t *testing.T) {
	for says, content := range map[string]string{
		"larger than 24 MB":      strings.Repeat("x", MostXML+1),
		"more than 400000 tags":  strings.Repeat("<a>", MostTags+1),
		"more than 10000 lines.": strings.Repeat("<InvoiceLine/>", 2*MostLines+1),
		"more than 10000 lines":  strings.Repeat("<CreditNoteLine></CreditNoteLine>", MostLines+1),
	} {
		err := XML([]byte(content), func() error { t.Fatal("was read"); return nil })
		require.True(t, fault.Is(err, fault.Invalid))
		require.ErrorContains(t, err, says)
	}
	read := 0
	for _, content := range []string{"", strings.Repeat("x", MostXML), strings.Repeat("<", MostTags), strings.Repeat("<InvoiceLine></InvoiceLine>", MostLines)} {
		require.NoError(t, XML([]byte(content), func() error { read++; return nil }))
	}
	require.Equal(t, 4, read)
}

func TestOneLargeFileAtATime(t *testing.T) {
	var at, most atomic.Int32
	var all sync.WaitGroup
	for range 20 {
		all.Go(func() {
			_ = Alone(large, func() error {
				if n := at.Add(1); n > most.Load() {
					most.Store(n)
				}
				at.Add(-1)
				return nil
			})
		})
	}
	all.Wait()
	require.Equal(t, int32(1), most.Load())
}
