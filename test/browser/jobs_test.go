package browser

import (
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestMain(m *testing.M) { Main(m) }

// TestEveryJobHasItsStage: each file of the contract with jobs that people give is of one stage, and each stage has its folder
// of tests, so that no job is left out of what they do.
func TestEveryJobHasItsStage(t *testing.T) {
	of := map[string]string{}
	for stage, files := range stages {
		main, err := os.ReadFile(filepath.Join(stage, "main_test.go"))
		require.NoError(t, err)
		require.Contains(t, string(main), "browser.Main(m)")
		for _, file := range files {
			require.Empty(t, of[file], "%s is of one stage", file)
			of[file] = stage
		}
	}
	folder, err := root()
	require.NoError(t, err)
	files, err := filepath.Glob(filepath.Join(folder, "api", "*.yaml"))
	require.NoError(t, err)
	total := 0
	for _, path := range files {
		file := filepath.Base(path[:len(path)-len(".yaml")])
		if slices.Contains([]string{"openapi", "oapi-codegen"}, file) { // the whole, and how code is made of it
			continue
		}
		jobs, err := jobsOf(file)
		require.NoError(t, err)
		require.True(t, len(jobs) == 0 || of[file] != "", "%s has jobs and is of no stage", file)
		total += len(jobs)
	}
	whole, err := jobsOf("openapi")
	require.NoError(t, err)
	require.Len(t, whole, total)
}
