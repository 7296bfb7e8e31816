package main

import (
	"bytes"
	"os"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/stretchr/testify/require"

	"lagoon/internal/act"
	"lagoon/internal/store"
	"lagoon/internal/views"
)

// People are added, given a password, listed and ended on the command line, on the data
// itself and through a running server alike, and the record says that it came from there.
func TestPeopleOnTheCommandLine(t *testing.T) {
	data := demoData(t)
	_, stop := keepDemo(t, data)
	var out, errs bytes.Buffer
	person := func(args ...string) error {
		out.Reset()
		return run(t.Context(), append([]string{"person", "-data", data}, args...), &out, &errs)
	}
	socket, err := os.Stat(filepath.Join(data, socketName))
	require.NoError(t, err)
	require.Equal(t, os.FileMode(0o600), socket.Mode().Perm())
	for _, login := range []string{"kit", "tove"} { // the first through the server, the second on the file
		require.NoError(t, person("add", "-name", "New "+login, "-roles", "clerk,approver", "-authority", "250.00", login))
		require.Regexp(t, regexp.MustCompile(`can sign in as `+login+`, once with the password ([a-z]{4}-){3}[a-z]{4}`), out.String())
		require.NoError(t, person("password", login))
		require.Contains(t, out.String(), "once with the password")
		require.NoError(t, person("list"))
		require.Regexp(t, login+` +New `+login+` +approver, clerk +250.00 EUR +has not chosen a password yet`, out.String())
		require.ErrorContains(t, person("end", login), "Say why")
		require.NoError(t, person("end", "-reason", "left", login))
		require.ErrorContains(t, person("password", login), "has left")
		require.ErrorContains(t, person("end", "-reason", "left", "rhea"), "last administrator")
		require.Error(t, person("dance", login))
		require.Error(t, person("add", login, "too", "many"))
		require.Error(t, person())
		if login == "kit" {
			stop()
		}
	}
	s, err := open(t.Context(), place{data: data})
	require.NoError(t, err)
	defer func() { require.NoError(t, s.Close()) }()
	rows, _, err := views.Record(t.Context(), act.New(s, act.Options{}), act.CommandLine, views.RecordFilter{Subject: "person", Number: "tove"})
	require.NoError(t, err)
	require.Equal(t, []string{"ended", "one-time password given", "person added"}, []string{rows[0].What, rows[1].What, rows[2].What})
	require.Equal(t, []string{"Command line", commandLine}, []string{rows[0].Name, rows[0].Address})
	origin, err := store.OriginOf(t.Context(), filepath.Join(data, "lagoon.db"))
	require.NoError(t, err)
	require.Equal(t, store.Demo, origin)
}
