<?php

declare(strict_types=1);

namespace Geschenk\Tests\Standin;

use Geschenk\Core\Files\Durable\Folder;
use Geschenk\Standin\Phone\Storage;
use Geschenk\Tests\Support\Scratch;
use PHPUnit\Framework\TestCase;

/** What a phone's files take is counted as if each were looked at each time. */
final class StorageTest extends TestCase
{
    use Scratch;

    public function testWhatComesGoesOrIsPutInPlaceCounts(): void
    {
        mt_srand(20261130);
        $root = Folder::make($this->path('phone'));
        foreach (['photo', 'photo/small', 'voice'] as $folder) {
            Folder::make("$root/$folder");
            for ($n = 0; $n < 40; ++$n) {
                file_put_contents("$root/$folder/$n", str_repeat('.', $n));
            }
            touch("$root/$folder", 1_500_000_000);
        }
        file_put_contents($root.'/chats.db', 'few');
        symlink('/etc/passwd', $root.'/photo/elsewhere');
        symlink('/etc', $root.'/away');
        for ($step = 0; $step < 60; ++$step) {
            self::assertSame(self::counted($root), Storage::bytes($root), "step $step");
            self::assertSame(self::counted($root), Storage::bytes($root), 'what is remembered');
            $folder = ['photo', 'photo/small', 'voice'][mt_rand(0, 2)];
            $file = "$root/$folder/".mt_rand(0, 45);
            match (mt_rand(0, 4)) {
                0 => file_put_contents($file, str_repeat('.', mt_rand(1, 500))),
                1 => @unlink($file),
                2 => file_put_contents($root.'/chats.db', str_repeat('.', mt_rand(1, 900))),
                3 => self::swap($root, $folder),
                default => file_put_contents($file.'.new', 'n') > 0 && rename($file.'.new', $file),
            };
            // Each change has its second, and all are long ago.
            touch("$root/$folder", 1_600_000_000 + $step);
        }
        mt_srand();
        self::assertSame(0, Storage::bytes($root.'/nowhere'));
        self::assertSame(0, Storage::bytes($root.'/away'));
    }

    private static function swap(string $root, string $folder): bool
    {
        $new = Folder::make("$root/$folder-new");
        file_put_contents($new.'/only', str_repeat('.', mt_rand(1, 50)));
        foreach ('photo' === $folder ? ['small'] : [] as $below) {
            rename("$root/$folder/$below", "$new/$below");
        }
        Folder::remove("$root/$folder");

        return rename($new, "$root/$folder");
    }

    private static function counted(string $root): int
    {
        $bytes = 0;
        foreach (Folder::files($root) as $file) {
            clearstatcache();
            $bytes += (int) filesize($root.'/'.$file);
        }

        return $bytes;
    }
}
