/**
 * What can be wrong with a cut, in one catalogue.
 *
 * <p>{@link org.wedgecutter.core.mistake.Mistake} lists the kinds: severity, meaning for the
 * picture, what the fix does. {@link org.wedgecutter.core.mistake.Sentence} has the sentences that
 * tell one, as templates. {@link org.wedgecutter.core.mistake.Message} is a sentence with its
 * arguments; it makes the words. Findings of {@code check} and causes of {@code proof} both carry a
 * message, so a mistake has the same words wherever it is found, and no code ever reads the words.
 */
@NullMarked
package org.wedgecutter.core.mistake;

import org.jspecify.annotations.NullMarked;
