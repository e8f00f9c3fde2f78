<?php

declare(strict_types=1);

namespace Geschenk\Tests\Support;

use DAMA\DoctrineTestBundle\Doctrine\DBAL\StaticDriver;
use Geschenk\Core\Files\Durable\Folder;

/** A data folder of a test's own, whose records are stored: other processes read them, and no other test meets them. */
trait OwnData
{
    use Scratch;

    private string $dataOfAll;

    private function useOwnData(string $folder): void
    {
        self::ensureKernelShutdown();
        $told = $_ENV['GESCHENK_DATA'] ?? '';
        $this->dataOfAll = is_string($told) ? $told : '';
        [$code, $said] = Console::run(Folder::make($folder), ['doctrine:migrations:migrate', '-n']);
        self::assertSame(0, $code, $said);
        self::useData($folder);
        StaticDriver::setKeepStaticConnections(false);
    }

    private function useDataOfAll(): void
    {
        self::ensureKernelShutdown();
        StaticDriver::setKeepStaticConnections(true);
        self::useData($this->dataOfAll);
    }

    private static function useData(string $folder): void
    {
        $told = ['GESCHENK_DATA' => $folder, 'GESCHENK_MEMORY' => Folder::make($folder.'/memory')];
        foreach ($told as $name => $value) {
            putenv("$name=$value");
            $_SERVER[$name] = $_ENV[$name] = $value;
        }
    }
}
