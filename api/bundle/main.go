// Command bundle puts the contract together: contract.yaml is what all stages share, every other
// file holds one stage's paths and the schemas that are its alone. The tools that make code of
// the contract read openapi.yaml, which is what this writes.
package main

import (
	"fmt"
	"log"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

const (
	whole  = "openapi.yaml"
	shared = "contract.yaml"

	paths   = "paths:\n"
	schemas = "components:\n  schemas:\n"
)

func main() {
	log.SetFlags(0)
	if err := bundle(os.Args[1]); err != nil {
		log.Fatal(err)
	}
}

func bundle(folder string) error {
	head, err := os.ReadFile(filepath.Join(folder, shared))
	if err != nil {
		return err
	}
	before, after, ok := strings.Cut(string(head), "components:\n")
	if !ok {
		return fmt.Errorf("%s has no components", shared)
	}
	files, err := filepath.Glob(filepath.Join(folder, "*.yaml"))
	if err != nil {
		return err
	}
	var allPaths, allSchemas strings.Builder
	for _, file := range files {
		if slices.Contains([]string{whole, shared, "oapi-codegen.yaml"}, filepath.Base(file)) {
			continue
		}
		content, err := os.ReadFile(file)
		if err != nil {
			return err
		}
		stage, schema, ok := strings.Cut(string(content), schemas)
		if !ok || !strings.HasPrefix(stage, paths) {
			return fmt.Errorf("%s is not made of paths and components.schemas", filepath.Base(file))
		}
		allPaths.WriteString(strings.TrimPrefix(stage, paths))
		allSchemas.WriteString(schema)
	}
	text := "# Made by api/bundle of the files beside it.\n" + before + paths + allPaths.String() + "components:\n" + after + allSchemas.String()
	return os.WriteFile(filepath.Join(folder, whole), []byte(text), 0o644)
}
