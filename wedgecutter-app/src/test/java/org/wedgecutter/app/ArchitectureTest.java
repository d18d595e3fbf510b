package org.wedgecutter.app;

import static com.tngtech.archunit.base.DescribedPredicate.not;
import static com.tngtech.archunit.core.domain.JavaClass.Predicates.resideInAPackage;
import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** The order of the window's rooms. */
class ArchitectureTest {
  private static final List<String> ORDER =
      List.of(
          "theme",
          "typing",
          "model",
          "live",
          "sheet",
          "panel",
          "viewer",
          "files",
          "station",
          "station.shot",
          "station.cut",
          "station.output",
          "station.render",
          "station.rejoin",
          "shell");

  private static final JavaClasses CLASSES =
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
          .check(CLASSES);
    }
  }

  @Test
  void everyPackageHasItsPlaceInTheOrder() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter.app..")
        .should()
        .resideOutsideOfPackages(
            Stream.concat(
                    Stream.of("org.wedgecutter.app"),
                    ORDER.stream().map(name -> "org.wedgecutter.app." + name))
                .toArray(String[]::new))
        .check(CLASSES);
  }

  @Test
  void theShellAndTheStationsDoNotKnowOneAnother() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter.app.shell")
        .should()
        .dependOnClassesThat()
        .resideInAPackage("org.wedgecutter.app.station.*..")
        .check(CLASSES);
    for (String one : List.of("shot", "cut", "output", "render")) {
      noClasses()
          .that()
          .resideInAPackage("org.wedgecutter.app.station." + one)
          .should()
          .dependOnClassesThat(
              resideInAPackage("org.wedgecutter.app.station.*..")
                  .and(not(resideInAPackage("org.wedgecutter.app.station." + one))))
          .check(CLASSES);
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
        .check(CLASSES);
  }

  @Test
  void theWindowDoesNotKnowTheCommandsOfTheCore() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter.app..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("org.wedgecutter.cli..", "org.wedgecutter.demo..")
        .check(CLASSES);
  }
}
