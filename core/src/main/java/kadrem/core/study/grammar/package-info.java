/** What the fields of a study file are: how each is written, what it may be, and what it is for. Said here once. */
@org.jspecify.annotations.NullMarked
package kadrem.core.study.grammar;
