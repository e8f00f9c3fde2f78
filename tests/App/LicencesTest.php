<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\App\Demo\Licences\LicencesWriteCommand;
use Geschenk\App\Demo\Licences\Shipped;
use PHPUnit\Framework\TestCase;

/** What ships and is somebody else's is in one file with its licence; who adds a package writes it anew. */
final class LicencesTest extends TestCase
{
    private const ROOT = __DIR__.'/../..';

    public function testTheFileIsOfWhatShips(): void
    {
        $root = (string) realpath(self::ROOT);
        self::assertSame(
            LicencesWriteCommand::text(new Shipped($root)),
            (string) file_get_contents($root.'/'.LicencesWriteCommand::FILE),
            './geschenk console licences:write writes it anew.',
        );
    }

    public function testBothHalvesAreInItAndNothingOfDevelopment(): void
    {
        $names = array_column((new Shipped((string) realpath(self::ROOT)))->all(), 'name');
        foreach (['symfony/http-kernel', 'doctrine/orm', 'dompdf/dompdf', 'vue', 'vuetify', '@mdi/js'] as $name) {
            self::assertContains($name, $names);
        }
        foreach (['phpunit/phpunit', 'phpstan/phpstan', 'vitest', '@playwright/test'] as $name) {
            self::assertNotContains($name, $names);
        }
    }
}
