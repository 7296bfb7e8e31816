package outbox

import (
	"bufio"
	"fmt"
	"net"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// server is a post office that takes one mail and tells what it was given.
func server(t *testing.T, refuse bool) (string, <-chan []string) {
	t.Helper()
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = listener.Close() })
	said := make(chan []string, 1)
	go func() {
		c, err := listener.Accept()
		if err != nil {
			return
		}
		defer func() { _ = c.Close() }()
		var lines []string
		_, _ = fmt.Fprint(c, "220 ready\r\n")
		in, data := bufio.NewScanner(c), false
		for in.Scan() {
			text := in.Text()
			lines = append(lines, text)
			switch {
			case data && text != ".":
				continue
			case data:
				data = false
				_, _ = fmt.Fprint(c, "250 taken\r\n")
			case text == "DATA":
				data = true
				_, _ = fmt.Fprint(c, "354 go on\r\n")
			case strings.HasPrefix(text, "RCPT") && refuse:
				_, _ = fmt.Fprint(c, "550 no such person\r\n")
			case text == "QUIT":
				_, _ = fmt.Fprint(c, "221 bye\r\n")
				said <- lines
				return
			default:
				_, _ = fmt.Fprint(c, "250 yes\r\n")
			}
		}
		said <- lines
	}()
	return listener.Addr().String(), said
}

func TestSMTP(t *testing.T) {
	address, said := server(t, false)
	copies := t.TempDir()
	s := SMTP{Address: address, Copies: Folder{copies}}
	require.NoError(t, s.Send(t.Context(), "12", "orders@skerry.example", "desk@brackwater.example", []byte("Subject: x\r\n\r\n.hello\r\n")))
	lines := <-said
	require.Contains(t, lines, "MAIL FROM:<orders@skerry.example>")
	require.Contains(t, lines, "RCPT TO:<desk@brackwater.example>")
	require.Contains(t, lines, "..hello", "a dot at the start of a line is not the end")
	kept, err := os.ReadFile(filepath.Join(copies, "12.eml"))
	require.NoError(t, err)
	require.Contains(t, string(kept), ".hello")
}

func TestSMTPRefuses(t *testing.T) {
	address, _ := server(t, true)
	s := SMTP{Address: address, Copies: Folder{t.TempDir()}}
	require.ErrorContains(t, s.Send(t.Context(), "12", "a@b.example", "c@d.example", []byte("x")), "no such person")
	require.Error(t, SMTP{Address: "nowhere", Copies: s.Copies}.Send(t.Context(), "1", "a@b.example", "c@d.example", nil))
}

// A server that takes the connection and says nothing, or begins and then says nothing, is given up.
func TestSMTPThatHangs(t *testing.T) {
	for _, says := range []string{"", "220 ready\r\n"} {
		listener, err := net.Listen("tcp", "127.0.0.1:0")
		require.NoError(t, err)
		held := make(chan net.Conn, 1)
		go func() {
			if c, err := listener.Accept(); err == nil {
				_, _ = fmt.Fprint(c, says)
				held <- c
			}
		}()
		s := SMTP{Address: listener.Addr().String(), Copies: Folder{t.TempDir()}, Patience: 50 * time.Millisecond}
		require.Error(t, s.Send(t.Context(), "12", "a@b.example", "c@d.example", []byte("x")))
		require.NoError(t, (<-held).Close())
		require.NoError(t, listener.Close())
		kept, err := os.ReadFile(filepath.Join(s.Copies.Path, "12.eml"))
		require.NoError(t, err)
		require.Equal(t, "x", string(kept), "the copy is kept all the same")
	}
}
