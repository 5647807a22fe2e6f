// Package report is a document in words and numbers for people and programs: the report that
// is handed over with a model, the route card, the painter's template.
package report
