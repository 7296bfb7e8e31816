package web

import (
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/require"

	"lagoon/internal/core/fault"
)

// Uploads together hold so much in memory and no more: the next large one waits for its place, a small one passes, and
// a place is left again however a request ends.
func TestLargeUploadsWaitForEachOther(t *testing.T) {
	sent := func(size int64) *gin.Context {
		c, _ := gin.CreateTestContext(httptest.NewRecorder())
		c.Request = httptest.NewRequestWithContext(t.Context(), "POST", "/api/invoices/files", strings.NewReader(""))
		c.Request.ContentLength = size
		return c
	}
	first, second := sent(mostUpload-1<<20), sent(-1)
	require.NoError(t, enter(first, time.Minute))
	require.NoError(t, enter(sent(smallUpload), time.Nanosecond), "a small one passes")
	err := enter(second, time.Nanosecond)
	require.True(t, fault.Is(err, fault.Later))
	require.ErrorContains(t, err, "Others are sending large files")
	leaving(second)
	require.False(t, uploading.TryAcquire(2<<20), "who waited in vain gives nothing back")
	leaving(first)
	require.NoError(t, enter(second, time.Minute))
	func() {
		defer func() { require.NotNil(t, recover()) }()
		engine := gin.New()
		engine.Use(leaving)
		engine.GET("/", func(c *gin.Context) {
			c.Set(releaseKey, second.MustGet(releaseKey))
			panic("in the middle")
		})
		engine.ServeHTTP(httptest.NewRecorder(), httptest.NewRequestWithContext(t.Context(), "GET", "/", nil))
	}()
	require.True(t, uploading.TryAcquire(mostUploads))
	uploading.Release(mostUploads)
}
