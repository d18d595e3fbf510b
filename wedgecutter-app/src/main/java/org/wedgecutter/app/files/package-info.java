/**
 * Everything in the window that reads or writes files. All of it runs on the one thread of {@link
 * org.wedgecutter.app.files.FileWork}, one task after another, so two writes never meet; what goes
 * wrong is shown as a banner.
 *
 * <p>{@link org.wedgecutter.app.files.PlanFiles} opens and saves plans, {@code RecoveryCopies}
 * keeps unsaved changes, {@link org.wedgecutter.app.files.PartFiles}, {@link
 * org.wedgecutter.app.files.CarryFiles} and {@link org.wedgecutter.app.files.ImageFiles} do what
 * their names say. The state folder holds recent files, unsaved changes and preferences.
 */
@NullMarked
package org.wedgecutter.app.files;

import org.jspecify.annotations.NullMarked;
