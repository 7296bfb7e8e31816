package browser

import (
	"flag"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"

	"go.yaml.in/yaml/v3"
)

// given are the commands that were given in some browser and done, by path.
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

// stages are the folders of the tests of each stage, and the files of the contract whose every job those do in the browser.
var stages = map[string][]string{
	"orders":   {"orders", "receiving"},
	"invoices": {"invoices", "mails", "papers", "holds", "questions", "batches", "turns", "selfbilling"},
	"payments": {"payments", "bank", "ahead", "cash", "monthend", "statements"},
	"setup":    {"company", "people", "suppliers", "lists", "lookup", "trials"},
}

// job is a command of the contract.
type job struct{ name, path string }

// jobsOf are the commands of a file of the contract that people give: those that name the roles that may.
func jobsOf(file string) ([]job, error) {
	folder, err := root()
	if err != nil {
		return nil, err
	}
	text, err := os.ReadFile(filepath.Join(folder, "api", file+".yaml"))
	if err != nil {
		return nil, err
	}
	var contract struct {
		Paths map[string]struct {
			Post *struct {
				Name  string   `yaml:"operationId"`
				Roles []string `yaml:"x-roles"`
			}
		}
	}
	if err := yaml.Unmarshal(text, &contract); err != nil {
		return nil, err
	}
	var jobs []job
	for path, at := range contract.Paths {
		if at.Post != nil && at.Post.Roles != nil {
			jobs = append(jobs, job{at.Post.Name, path})
		}
	}
	return jobs, nil
}

// allGiven says which jobs of the stage whose folder this is no test has done in the browser.
func allGiven() error {
	folder, err := os.Getwd()
	if err != nil {
		return err
	}
	var missing []string
	for _, file := range stages[filepath.Base(folder)] {
		jobs, err := jobsOf(file)
		if err != nil {
			return err
		}
		for _, j := range jobs {
			if !wasGiven(j) {
				missing = append(missing, j.name)
			}
		}
	}
	if len(missing) > 0 {
		slices.Sort(missing)
		return fmt.Errorf("no test of this folder does in the browser: %s", strings.Join(missing, ", "))
	}
	return nil
}

var parameter = regexp.MustCompile(`\{[^}]+\}`)

func wasGiven(j job) (was bool) {
	pattern := regexp.MustCompile("^" + parameter.ReplaceAllString(j.path, "[^/]+") + "$")
	given.Range(func(called, _ any) bool {
		was = pattern.MatchString(called.(string))
		return !was
	})
	return was
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
