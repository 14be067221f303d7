/** The study file: read with places, checked, and edited without losing what others wrote in it. */
@NullMarked
package kadrem.files.study;

import org.jspecify.annotations.NullMarked;
