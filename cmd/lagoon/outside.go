package main

// This file is what a server keeps outside its data, or takes from there: the key that seals
// the record, the heads of the record, the certificate.

import (
	"bytes"
	"crypto/tls"
	"fmt"
	"os"
	"strings"
	"sync"
	"time"

	"lagoon/internal/store"
)

const shortestKey = 32

// sealKey reads the key that seals the record; no name is no key.
func sealKey(name string) (store.SealKey, error) {
	if name == "" {
		return nil, nil
	}
	content, err := os.ReadFile(name)
	if err != nil {
		return nil, fmt.Errorf("the key cannot be read: %w", err)
	}
	if content = bytes.TrimSpace(content); len(content) < shortestKey {
		return nil, fmt.Errorf(
			"the key in %s is too short: make one with “head -c 32 /dev/urandom | base64 > FILE”",
			name,
		)
	}
	return content, nil
}

// headFile appends heads of the record to a file, a line each.
func headFile(name string) func(row int64, hash string) error {
	if name == "" {
		return nil
	}
	return func(row int64, hash string) error {
		file, err := os.OpenFile(name, os.O_APPEND|os.O_CREATE|os.O_WRONLY, 0o600)
		if err != nil {
			return err
		}
		_, err = fmt.Fprintf(file, "%s %d %s\n", time.Now().UTC().Format(time.RFC3339), row, hash)
		if closed := file.Close(); err == nil {
			err = closed
		}
		return err
	}
}

// headsIn are the heads that a file keeps.
func headsIn(name string) ([]string, error) {
	if name == "" {
		return nil, nil
	}
	content, err := os.ReadFile(name)
	if err != nil {
		return nil, fmt.Errorf("the heads cannot be read: %w", err)
	}
	var heads []string
	for line := range strings.Lines(string(content)) {
		if words := strings.Fields(line); len(words) > 0 {
			heads = append(heads, words[len(words)-1])
		}
	}
	return heads, nil
}

// certificate reads a certificate and its key, and again when the file has changed, so that a
// renewed one needs no new start.
type certificate struct {
	cert, key string

	mu    sync.Mutex
	as    time.Time
	given *tls.Certificate
}

func (c *certificate) get(*tls.ClientHelloInfo) (*tls.Certificate, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	info, err := os.Stat(c.cert)
	if err == nil && c.given != nil && info.ModTime().Equal(c.as) {
		return c.given, nil
	}
	if err == nil {
		var pair tls.Certificate
		if pair, err = tls.LoadX509KeyPair(c.cert, c.key); err == nil {
			c.given, c.as = &pair, info.ModTime()
		}
	}
	if c.given != nil {
		return c.given, nil // the last that could be read, while a new one is being put in its place
	}
	return nil, err
}
