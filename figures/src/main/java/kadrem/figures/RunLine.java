package kadrem.figures;

import java.awt.Color;

import kadrem.core.examine.RunView;

/**
 * A run as a line of figures.
 *
 * @param name letter of its candidate and number of its round
 */
public record RunLine(String name, Color colour, RunView view) {
}
