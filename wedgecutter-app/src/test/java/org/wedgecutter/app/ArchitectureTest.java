package org.wedgecutter.app;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.util.List;
import org.junit.jupiter.api.Test;

/** The order of the window's rooms. */
class ArchitectureTest {
  private static final List<String> ORDER =
      List.of("theme", "model", "live", "sheet", "viewer", "stations");

  private final JavaClasses classes =
      new ClassFileImporter()
          .withImportOption(new ImportOption.DoNotIncludeTests())
          .importPackages("org.wedgecutter.app");

  @Test
  void packagesUseOnlyThoseBeforeThem() {
    for (int p = 0; p < ORDER.size() - 1; p++) {
      noClasses()
          .that()
          .resideInAPackage("org.wedgecutter.app." + ORDER.get(p))
          .should()
          .dependOnClassesThat()
          .resideInAnyPackage(
              ORDER.subList(p + 1, ORDER.size()).stream()
                  .map(name -> "org.wedgecutter.app." + name)
                  .toArray(String[]::new))
          .check(classes);
    }
  }

  @Test
  void sessionAndTraceKnowNoInterface() {
    noClasses()
        .that()
        .resideInAnyPackage("org.wedgecutter.app.model", "org.wedgecutter.app.live")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("javafx..")
        .check(classes);
  }

  @Test
  void theWindowDoesNotKnowTheCommandsOfTheCore() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter.app..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("org.wedgecutter.cli..", "org.wedgecutter.demo..")
        .check(classes);
  }
}
