<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\App\Security\KeySafe;
use PHPUnit\Framework\TestCase;

final class KeySafeTest extends TestCase
{
    public function testWhatWasToldComesBackWithTheSameSecretAlone(): void
    {
        $safe = new KeySafe('a secret of this installation');
        $kept = $safe->put('  ebb & flow ');
        $locked = substr((string) strstr($kept, ':'), 1);
        self::assertStringNotContainsString('ebb', (string) base64_decode($locked, true));
        self::assertSame(['  ebb & flow ', null], [$safe->take($kept)?->told, $safe->take($kept)?->digits()]);
        self::assertNull((new KeySafe('another secret'))->take($kept));
        self::assertNotSame($kept, $safe->put('  ebb & flow '));
    }

    public function testTheSecretCanBeChangedWhileSomethingIsKept(): void
    {
        $kept = (new KeySafe('the first'))->put('ebb');
        $rotated = new KeySafe('the second', 'the first');
        self::assertSame('ebb', $rotated->take($kept)?->told);
        $anew = $rotated->put('ebb');
        self::assertNotSame(strstr($kept, ':', true), strstr($anew, ':', true), 'each names its lock');
        self::assertSame('ebb', (new KeySafe('the second'))->take($anew)?->told);
        self::assertNull((new KeySafe('the second'))->take($kept));
        // As the version before wrote it, without a name.
        self::assertSame('ebb', (new KeySafe('the first'))->take(substr((string) strstr($kept, ':'), 1))?->told);
    }

    public function testNothingAndRubbishOpenNothing(): void
    {
        $safe = new KeySafe('a secret of this installation');
        foreach ([null, '', 'no base64!', base64_encode('short'), base64_encode(str_repeat('x', 60))] as $kept) {
            self::assertNull($safe->take($kept));
        }
    }
}
