package browser

import (
	"flag"
	"net/http"
	"regexp"
	"slices"
	"sync"

	"github.com/getkin/kin-openapi/openapi3"
)

// given are the commands that were given in some browser and done, as "POST path".
var given sync.Map

// noting passes requests on and notes the commands that were done.
func noting(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method != http.MethodPost {
			next.ServeHTTP(w, r)
			return
		}
		seen := &seenStatus{ResponseWriter: w, status: http.StatusOK}
		next.ServeHTTP(seen, r)
		if seen.status < http.StatusBadRequest {
			given.Store(r.URL.Path, true)
		}
	})
}

type seenStatus struct {
	http.ResponseWriter
	status int
}

func (w *seenStatus) WriteHeader(status int) {
	w.status = status
	w.ResponseWriter.WriteHeader(status)
}

// neverGiven are the jobs of the contract that no test of this package has done in the browser.
func neverGiven() ([]string, error) {
	doc, err := openapi3.NewLoader().LoadFromFile("../../api/openapi.yaml")
	if err != nil {
		return nil, err
	}
	var missing []string
	for path, item := range doc.Paths.Map() {
		if item.Post == nil || item.Post.Extensions["x-roles"] == nil {
			continue
		}
		pattern := regexp.MustCompile("^" + regexp.MustCompile(`\{[^}]+\}`).ReplaceAllString(path, "[^/]+") + "$")
		done := false
		given.Range(func(called, _ any) bool {
			done = done || pattern.MatchString(called.(string))
			return !done
		})
		if !done {
			missing = append(missing, item.Post.OperationID)
		}
	}
	slices.Sort(missing)
	return missing, nil
}

// everything tells whether all tests were run, and not some of them or a benchmark.
func everything() bool {
	for _, name := range []string{"test.run", "test.skip", "test.bench", "test.list"} {
		if f := flag.Lookup(name); f != nil && f.Value.String() != "" {
			return false
		}
	}
	return true
}
