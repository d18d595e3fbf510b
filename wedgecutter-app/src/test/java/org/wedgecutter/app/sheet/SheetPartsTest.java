package org.wedgecutter.app.sheet;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.wedgecutter.app.sheet.SheetGeometry.Part;
import org.wedgecutter.app.sheet.SheetGeometry.Target;

/** Where things are on the sheet, and what is selected; without a window. */
class SheetPartsTest {
  private static final SheetGeometry WIDE = new SheetGeometry(568, 500, 6, 4, 0, 0);
  private static final SheetGeometry SCROLLED = new SheetGeometry(400, 300, 50, 9, 10, 100);

  @Test
  void centresOfCellsAreHitAndEdgesBelongToOne() {
    for (SheetGeometry g : List.of(WIDE, SCROLLED)) {
      for (int r = (int) g.down(); r < g.down() + 5; r++) {
        for (int c = 2; c < 4; c++) {
          double[] at = g.centre(r, c);
          assertThat(g.at(at[0], at[1])).isEqualTo(new Target(Part.CELL, r, c));
        }
        double[] label = g.centre(r, -1);
        assertThat(g.at(label[0], label[1])).isEqualTo(new Target(Part.LABEL, r, -1));
      }
    }
    double edge = WIDE.left(2);
    assertThat(WIDE.at(edge - 0.5, 200).column()).isEqualTo(1);
    assertThat(WIDE.at(edge, 200).column()).isEqualTo(2);
  }

  @ParameterizedTest
  @CsvSource({
    "30, 60, NONE, -1",
    "180, 10, NAME, 0",
    "180, 60, HEADER, 0",
    "262, 94, RENDER_MARK, 0",
    "180, 120, JOIN, 0",
    // the plate of a join lies across the line between two columns
    "262, 120, JOIN, 1",
    "560, 120, JOIN, 3",
    "300, 490, NONE, 1"
  })
  void partsOfHeadersAreToldApart(double x, double y, Part part, int column) {
    Target t = WIDE.at(x, y);
    assertThat(t.part()).isEqualTo(part);
    assertThat(t.column()).isEqualTo(column);
  }

  @Test
  void columnsAreNeitherTooNarrowNorTooWide() {
    assertThat(new SheetGeometry(400, 300, 1, 30, 0, 0).columnWidth())
        .isEqualTo(SheetGeometry.MIN_COLUMN);
    assertThat(new SheetGeometry(2000, 300, 1, 2, 0, 0).columnWidth()).isEqualTo(168);
  }

  @Test
  void theSelectionIsTheRectangleBetweenAnchorAndCursor() {
    SheetSelection s = new SheetSelection();
    s.resize(5, 4);
    s.move(3, 2, false);
    s.move(1, 0, true);
    List<String> cells = new ArrayList<>();
    s.forEach((r, c) -> cells.add(r + "," + c));
    assertThat(cells)
        .containsExactly("1,0", "1,1", "1,2", "2,0", "2,1", "2,2", "3,0", "3,1", "3,2");
    assertThat(s.contains(2, 1)).isTrue();
    assertThat(s.contains(4, 1)).isFalse();
    assertThat(s.containsRow(3)).isTrue();
    assertThat(s.row()).isEqualTo(1);
  }

  @Test
  void cursorAndAnchorStayWithinASheetThatShrinks() {
    SheetSelection s = new SheetSelection();
    s.resize(5, 4);
    s.move(99, 99, false);
    assertThat(s.row()).isEqualTo(4);
    assertThat(s.column()).isEqualTo(3);
    s.resize(2, 1);
    assertThat(s.row()).isEqualTo(1);
    assertThat(s.column()).isZero();
    s.move(-7, -7, false);
    assertThat(s.row()).isZero();
    assertThat(s.column()).isEqualTo(-1);
    s.resize(0, 0);
    s.move(3, 3, true);
    assertThat(s.row()).isZero();
  }
}
