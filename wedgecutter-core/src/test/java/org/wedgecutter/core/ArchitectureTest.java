package org.wedgecutter.core;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import java.util.List;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The order of the rooms: each package uses only those before it. */
class ArchitectureTest {
  private static final String ROOT = "org.wedgecutter.core.";
  private static final List<String> ORDER =
      List.of(
          "io",
          "mistake",
          "image",
          "scene",
          "scene.gltf",
          "scene.usd",
          "scene.obj",
          "scene.files",
          "plan",
          "resolve",
          "motion",
          "cut",
          "pass",
          "trace.sample",
          "trace.accel",
          "trace.world",
          "trace.bsdf",
          "trace.light",
          "trace.volume",
          "trace",
          "fragment",
          "load",
          "measure",
          "render",
          "rejoin",
          "proof",
          "check",
          "carry",
          "deliver",
          "deliver.file",
          "deliver.unit",
          "deliver.check",
          "export",
          "survey",
          "propose");
  private static JavaClasses classes;

  @BeforeAll
  static void read() {
    classes =
        new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("org.wedgecutter.core", "org.wedgecutter.exr");
  }

  @Test
  void packagesUseOnlyThoseBeforeThem() {
    for (int p = 0; p < ORDER.size(); p++) {
      String[] later =
          ORDER.subList(p + 1, ORDER.size()).stream()
              .map(name -> ROOT + name)
              .toArray(String[]::new);
      if (later.length > 0) {
        noClasses()
            .that()
            .resideInAPackage(ROOT + ORDER.get(p))
            .should()
            .dependOnClassesThat()
            .resideInAnyPackage(later)
            .check(classes);
      }
    }
  }

  @Test
  void everyPackageHasItsPlaceInTheOrder() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter.core..")
        .should()
        .resideOutsideOfPackages(ORDER.stream().map(name -> ROOT + name).toArray(String[]::new))
        .check(classes);
  }

  @Test
  void theRoomsOfTheTracerAreItsOwn() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter..")
        .and()
        .resideOutsideOfPackages(ROOT + "trace", ROOT + "trace..")
        .should()
        .dependOnClassesThat()
        .resideInAPackage(ROOT + "trace.*..")
        .check(classes);
  }

  @Test
  void theCoreHasNoInterfaceCode() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter..")
        .should()
        .dependOnClassesThat()
        .resideInAnyPackage("javafx..", "javax.swing..", "java.awt.event..")
        .check(classes);
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter..")
        .should()
        .dependOnClassesThat()
        .haveNameMatching("java\\.awt\\.(Window|Frame|Component|Toolkit|Robot)")
        .check(classes);
  }

  @Test
  void theExrModuleStandsAlone() {
    noClasses()
        .that()
        .resideInAPackage("org.wedgecutter.exr..")
        .should()
        .dependOnClassesThat()
        .resideOutsideOfPackages("java..", "org.wedgecutter.exr..", "org.jspecify..")
        .check(classes);
  }
}
