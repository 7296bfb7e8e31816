package web

// This file bounds what uploads hold in memory.

import (
	"context"
	"time"

	"github.com/gin-gonic/gin"
	"golang.org/x/sync/semaphore"

	"lagoon/internal/core/fault"
)

// mostUploads is what all uploads together hold in memory at a time. A small one passes.
const (
	mostUploads = mostUpload
	smallUpload = 256 << 10
	uploadWait  = 20 * time.Second
)

var uploading = semaphore.NewWeighted(mostUploads)

const releaseKey = "release"

// enter waits until an upload of this request's size has its place. It leaves it again
// when the answer is written (leaving).
func enter(c *gin.Context, wait time.Duration) error {
	size := c.Request.ContentLength
	if size < 0 || size > mostUpload {
		size = mostUpload // it does not say, or is refused when it is read
	}
	if size <= smallUpload {
		return nil
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), wait)
	defer cancel()
	if uploading.Acquire(ctx, size) != nil {
		busy := fault.New(fault.Later, "", "Others are sending large files just now. Try again in a minute.")
		busy.Wait = time.Minute
		return busy
	}
	c.Set(releaseKey, func() { uploading.Release(size) })
	return nil
}

// leaving gives back what a request took, whatever became of it.
func leaving(c *gin.Context) {
	defer func() {
		if release, ok := c.Get(releaseKey); ok {
			release.(func())()
		}
	}()
	c.Next()
}
