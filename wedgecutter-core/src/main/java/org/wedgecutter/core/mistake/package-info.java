/**
 * What can be wrong with a cut, in one catalogue.
 *
 * <p>{@link org.wedgecutter.core.mistake.Mistake} lists the kinds: severity, meaning for the
 * picture, what the fix does. {@link org.wedgecutter.core.mistake.Sentence} has the sentences that
 * state one, as templates. {@link org.wedgecutter.core.mistake.Message} is a sentence with its
 * arguments; it makes the words. Begin with {@code Mistake}.
 *
 * <p>Findings of {@code check} and causes of {@code proof} both carry a message, so a mistake has
 * the same words wherever it is found: in the window, on the command line, in JSON. {@code
 * docs/findings.md} is written from the catalogue, and a test compares it.
 *
 * <p>Invariants: no code ever reads the words, only the kind, the sentence and the arguments; a
 * placeholder without an argument is refused when the message is made; every kind that a plan can
 * have is made, found and mended by a test. A new kind is an entry here, its sentences, and the
 * check that finds it.
 */
@NullMarked
package org.wedgecutter.core.mistake;

import org.jspecify.annotations.NullMarked;
