/** Forms that are made from the grammar of the study file: an editor for each kind of field. */
@org.jspecify.annotations.NullMarked
package kadrem.desk.form;
