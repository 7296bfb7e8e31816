package main

// This file is what an administrator does on the machine itself. While a server runs it is
// told through a socket in the folder of the data, which only its owner can open; else the
// data is opened here. Either way the record says that it came from the command line.

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"flag"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"text/tabwriter"
	"time"

	"lagoon/internal/act"
	"lagoon/internal/core/money"
	"lagoon/internal/jobs/people"
	"lagoon/internal/views"
)

const personUsage = `lagoon person [-data DIR] list
lagoon person [-data DIR] add -name NAME -roles ROLE,ROLE [-authority AMOUNT] [-comma] LOGIN
lagoon person [-data DIR] password LOGIN
lagoon person [-data DIR] end -reason TEXT LOGIN
`

const commandLine = "command line"

// console does what is asked on the command line.
type console struct{ app *act.App }

func (c console) command() act.Command {
	return act.Command{Actor: act.CommandLine, Address: commandLine, Cause: commandLine}
}

// do runs one request, and gives what to print.
func (c console) do(ctx context.Context, args []string) (string, error) {
	if len(args) == 0 {
		return "", misused{"say what to do: list, add, password or end\n" + personUsage}
	}
	flags := flag.NewFlagSet(args[0], flag.ContinueOnError)
	flags.SetOutput(io.Discard)
	name, roles := flags.String("name", "", ""), flags.String("roles", "", "")
	authority, reason := flags.String("authority", "0", ""), flags.String("reason", "", "")
	comma := flags.Bool("comma", false, "")
	if err := flags.Parse(args[1:]); err != nil {
		return "", misused{err.Error()}
	}
	login := flags.Arg(0)
	if wanted := map[string]int{"list": 0, "add": 1, "password": 1, "end": 1, "note": 2}; flags.NArg() != wanted[args[0]] {
		return "", misused{"that is not how it is asked:\n" + personUsage}
	}
	setting, err := c.app.Setting(ctx)
	if err != nil {
		return "", err
	}
	if !setting.Configured {
		return "", errors.New("nobody has set this Lagoon up yet: start it and open it in a browser")
	}
	switch args[0] {
	case "list":
		return c.list(ctx)
	case "add":
		entry := people.Entry{
			Login:     login,
			Name:      *name,
			Authority: money.Entered(*authority),
			Comma:     *comma,
			Roles:     strings.FieldsFunc(*roles, func(r rune) bool { return r == ',' || r == ' ' }),
			Password:  people.GivenPassword(),
		}
		added, err := people.Add(ctx, c.app, c.command(), entry)
		return fmt.Sprintf(
			"%s can sign in as %s, once with the password %s\n",
			entry.Name,
			added.Login,
			entry.Password,
		), err
	case "password":
		password := people.GivenPassword()
		saved, err := people.ResetPassword(ctx, c.app, c.command(), login, password)
		return fmt.Sprintf("%s can sign in once with the password %s\n", saved.Login, password), err
	case "end":
		saved, err := people.End(ctx, c.app, c.command(), login, *reason)
		return fmt.Sprintf("%s can sign in no more.\n", saved.Login), err
	case "note": // what another process did with the data that this one has open
		what := act.Job(flags.Arg(0))
		if what != act.BackedUp && what != act.Restored {
			return "", fmt.Errorf("%q is not noted", what)
		}
		return "", c.app.Note(ctx, c.command(), what, "data", flags.Arg(1), nil)
	default:
		return "", misused{fmt.Sprintf("there is no %q:\n%s", args[0], personUsage)}
	}
}

func (c console) list(ctx context.Context) (string, error) {
	all, err := views.People(ctx, c.app)
	var b bytes.Buffer
	w := tabwriter.NewWriter(&b, 0, 0, 2, ' ', 0)
	for _, p := range all.People {
		state := ""
		switch {
		case !p.Active:
			state = "left"
		case p.Asked.By != 0:
			state = "waits for a second administrator: " + strings.Join(p.Asked.Roles, ", ")
		case p.OneTime:
			state = "has not chosen a password yet"
		}
		_, _ = fmt.Fprintf(
			w,
			"%s\t%s\t%s\t%s %s\t%s\n",
			p.Login,
			p.Name,
			strings.Join(p.Roles, ", "),
			p.Authority.Text(all.Company),
			all.Company,
			state,
		)
	}
	err = errors.Join(err, w.Flush())
	return b.String(), err
}

// A socket's name is short, wherever the data is.
const socketName = "lagoon.sock"

// listen answers requests through the socket until the context ends.
func (c console) listen(ctx context.Context, folder string) error {
	path := filepath.Join(folder, socketName)
	if err := os.Remove(path); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err // one that was left over; the lock says that nobody listens there
	}
	listener, err := net.Listen("unix", path)
	if err != nil {
		return err
	}
	if err := os.Chmod(path, 0o600); err != nil {
		return errors.Join(err, listener.Close())
	}
	server := &http.Server{
		ReadHeaderTimeout: 5 * time.Second,
		Handler: http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			var args []string
			answer := said{}
			if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, 64<<10)).Decode(&args); err != nil {
				answer.Error = "this cannot be read"
			} else if answer.Text, err = c.do(r.Context(), args); err != nil {
				answer = said{Error: err.Error(), Misused: errors.As(err, new(misused))}
			}
			_ = json.NewEncoder(w).Encode(answer) // who asked is gone if this fails
		}),
	}
	context.AfterFunc(ctx, func() { _ = server.Close() })
	go func() { _ = server.Serve(listener) }() // ends with the context
	return nil
}

// said is an answer through the socket.
type said struct {
	Text, Error string
	Misused     bool
}

// ask has something done with the data in a folder: by the server that has it open, or
// here.
func ask(ctx context.Context, at place, args []string) (string, error) {
	folder := at.data
	if _, err := dataIn(folder); err != nil {
		return "", err
	}
	unlock, err := lock(folder)
	if err != nil {
		return askServer(ctx, folder, args)
	}
	defer unlock()
	data, err := open(ctx, at)
	if err != nil {
		return "", err
	}
	defer func() { _ = data.Close() }()
	return console{act.New(data, act.Options{})}.do(ctx, args)
}

func askServer(ctx context.Context, folder string, args []string) (string, error) {
	body, err := json.Marshal(args)
	if err != nil {
		return "", err
	}
	client := &http.Client{
		Transport: &http.Transport{
			DisableKeepAlives: true,
			DialContext: func(ctx context.Context, _, _ string) (net.Conn, error) {
				return (&net.Dialer{}).DialContext(ctx, "unix", filepath.Join(folder, socketName))
			},
		},
	}
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, "http://lagoon/", bytes.NewReader(body))
	if err != nil {
		return "", err
	}
	response, err := client.Do(request)
	if err != nil {
		return "", fmt.Errorf("another Lagoon works on %s and does not listen there: %w", folder, err)
	}
	defer response.Body.Close() //nolint:errcheck // read below
	var answer said
	if err := json.NewDecoder(response.Body).Decode(&answer); err != nil {
		return "", err
	}
	switch {
	case answer.Misused:
		return "", misused{answer.Error}
	case answer.Error != "":
		return "", errors.New(answer.Error)
	}
	return answer.Text, nil
}
