<?php

declare(strict_types=1);

namespace Geschenk\Tests\App;

use Geschenk\Core\Files\Durable\Disk;
use Geschenk\Core\Messenger\BackupKey;
use Geschenk\Core\Messenger\Otterpost\Android\SealedBackup;
use Geschenk\Standin\Disk\UnsyncedDisk;
use Geschenk\Tests\Support\Phones;
use Geschenk\Tests\Support\Scratch;
use Symfony\Bundle\FrameworkBundle\Console\Application;
use Symfony\Bundle\FrameworkBundle\Test\KernelTestCase;
use Symfony\Component\Console\Tester\CommandTester;

/** The chats: commands: their output, their exit codes, their one line when the input is of no use. */
final class CommandLineTest extends KernelTestCase
{
    use Scratch;

    public function testInspectSaysWhatIsThere(): void
    {
        $data = Phones::giving($this->path())->data('otterpost');
        [$code, $report] = $this->json('chats:inspect', ['path' => $data]);
        self::assertSame(0, $code);
        self::assertSame(
            ['data_folder', 'Otterpost', 'android', 7, Phones::NUMBER],
            [$report['form'], $report['messenger'], $report['platform'], $report['generation'], $report['account']],
        );
        self::assertSame(array_sum((array) $report['messages_by_kind']), $report['messages']);
        $attachments = (array) $report['attachments'];
        self::assertSame(3, $attachments['missing']);
        self::assertSame($attachments['total'], array_sum([$attachments['present'], 3]));
        self::assertSame('1969-12-30T23:59:59.877Z', $report['first_message_at']);
        self::assertSame('2101-01-01T00:00:00.777Z', $report['last_message_at']);
        [$code, $text] = $this->execute('chats:inspect', ['path' => $data]);
        self::assertSame(0, $code);
        self::assertStringContainsString('generation 7', $text);
    }

    public function testConvertThenCompare(): void
    {
        $data = Phones::giving($this->path())->data('otterpost');
        [$code, $report] = $this->json('chats:convert', ['in' => $data, 'out' => $this->path('out'), '--to' => 'ios']);
        self::assertSame([0, 'ios'], [$code, $report['platform']]);
        self::assertContains('heard_time', array_column((array) $report['losses'], 'rule'));
        [$code, $report] = $this->json('chats:compare', ['left' => $data, 'right' => $this->path('out')]);
        $totals = (array) $report['totals'];
        self::assertSame([0, 0, true], [$code, $totals['missing'], $totals['complete']]);
        self::assertSame(array_sum([$totals['arrived'], $totals['changed'], $totals['left_out']]), $totals['messages']);
        self::assertSame(array_sum(array_column((array) $report['conversations'], 'arrived')), $totals['arrived']);

        foreach (array_slice(glob($this->path('out').'/Parcels/*/*.jpg') ?: [], 0, 2) as $file) {
            unlink($file);
        }
        [$code, $report] = $this->json('chats:compare', ['left' => $data, 'right' => $this->path('out')]);
        self::assertSame([1, ['attachment_not_there' => 2]], [$code, $report['reasons']]);
        [$code, $output] = $this->execute('chats:compare', ['left' => $data, 'right' => $this->path('out')]);
        self::assertSame(1, $code);
        self::assertStringContainsString('2 missing', $output);
    }

    public function testThereAndBackAgain(): void
    {
        $data = Phones::giving($this->path())->data('otterpost');
        self::assertSame(
            0, $this->execute('chats:convert', ['in' => $data, 'out' => $this->path('ios'), '--to' => 'ios'])[0],
        );
        self::assertSame(
            0,
            $this->execute(
                'chats:convert', ['in' => $this->path('ios'), 'out' => $this->path('android'), '--to' => 'android'],
            )[0],
        );
        self::assertSame(
            0, $this->execute('chats:compare', ['left' => $this->path('ios'), 'right' => $this->path('android')])[0],
        );
    }

    public function testChoicesAreTakenAndHeldAgainst(): void
    {
        $data = Phones::giving($this->path())->data('otterpost');
        $choice = ['--choose' => ['broadcast_list:as_notice']];
        [$code, $report] = $this->json(
            'chats:convert', ['in' => $data, 'out' => $this->path('out'), '--to' => 'ios'] + $choice,
        );
        $loss = (array) ((array) $report['losses'])[0];
        self::assertSame(
            [0, 'broadcast_list', 'noticed', 25], [$code, $loss['rule'], $loss['outcome'], $loss['messages']],
        );
        [$code, $report] = $this->json('chats:compare', ['left' => $data, 'right' => $this->path('out')] + $choice);
        // The list, and one message that had run out.
        self::assertSame([1, 26], [((array) $report['totals'])['added'], ((array) $report['totals'])['left_out']]);
        self::assertSame(
            0, $this->execute('chats:convert', ['in' => $data, 'out' => $this->path('newer'), '--to' => 'android'])[0],
        );
        foreach (['broadcast_list', 'broadcast_list:burnt', 'nothing:such'] as $wrong) {
            self::assertSame(
                2,
                $this->execute(
                    'chats:convert',
                    ['in' => $data, 'out' => $this->path('no'), '--to' => 'ios', '--choose' => [$wrong]],
                )[0],
                $wrong,
            );
        }
        self::assertFileDoesNotExist($this->path('no'));
    }

    public function testASealedBackupIsOpenedWithTheKeyInAFile(): void
    {
        $data = Phones::giving($this->path(), [], false)->data('otterpost');
        [, $open] = $this->json('chats:inspect', ['path' => $data]);
        $database = new \SQLite3($data.'/pouch.db');
        $database->exec('PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE');
        $database->close();
        SealedBackup::seal($data.'/pouch.db', $data.'/pouch.sealed', BackupKey::of('harbour lights'));
        unlink($data.'/pouch.db');
        file_put_contents($this->path('right'), "harbour lights\n");
        file_put_contents($this->path('wrong'), "harbour light\n");
        [$code, $sealed] = $this->json('chats:inspect', ['path' => $data, '--key-file' => $this->path('right')]);
        self::assertSame([0, 'local_backup', $open['messages']], [$code, $sealed['form'], $sealed['messages']]);
        foreach ([['wrong', 'another key or password'], ['nowhere', 'can’t be read']] as [$file, $because]) {
            [$code, , $errors] = $this->execute('chats:inspect', ['path' => $data, '--key-file' => $this->path($file)]);
            self::assertSame(2, $code);
            self::assertStringContainsString($because, $errors);
        }
        self::assertStringContainsString('--key-file', $this->execute('chats:inspect', ['path' => $data])[2]);
    }

    public function testTheBenchmarkMeasuresAConversionThatTallies(): void
    {
        [$code, $figures] = $this->json('bench:convert', ['--messages' => '3000']);
        self::assertSame(0, $code);
        self::assertSame(3000, $figures['messages']);
        foreach ([
            'floor_s', 'read_s', 'write_s', 'readback_s', 'compare_s', 'convert_ratio', 'check_ratio', 'peak_mb',
        ] as $key) {
            self::assertGreaterThan(0, $figures[$key], $key);
        }
        self::assertSame(2, $this->execute('bench:convert', ['--messages' => 'many'])[0]);
    }

    public function testWhatWaitingForTheDiskCostsIsMeasuredAndNothingIsLeft(): void
    {
        [$code, $figures] = $this->json('bench:backup', ['--files' => '5', '--kilobytes' => '2', '--rounds' => '1']);
        self::assertSame(0, $code);
        self::assertSame(['files', 'kilobytes', 'with_s', 'without_s', 'ratio'], array_keys($figures));
        self::assertGreaterThan(0, $figures['ratio']);
        self::assertTrue(UnsyncedDisk::$isWaitedFor);
        // Found before PHP's by those who wait, or nothing was measured.
        self::assertTrue(function_exists((new \ReflectionClass(Disk::class))->getNamespaceName().'\fsync'));
        self::assertSame([], glob(getenv('GESCHENK_DATA').'/bench-*'));
        self::assertSame(2, $this->execute('bench:backup', ['--files' => '0'])[0]);
    }

    public function testInputOfNoUseIsOneLineAndTwo(): void
    {
        $data = Phones::giving($this->path())->data('otterpost');
        mkdir($this->path('there'));
        touch($this->path('a-file'));
        foreach ([
            ['chats:inspect', ['path' => $this->path('nowhere')], 'There is nothing at'],
            ['chats:inspect', ['path' => $this->path('there')], 'holds no messenger data'],
            ['chats:convert', ['in' => $data, 'out' => $this->path('there'), '--to' => 'ios'], 'exists already'],
            [
                'chats:convert', ['in' => $data, 'out' => $this->path('new'), '--to' => 'elsewhere'],
                '--to=android or --to=ios',
            ],
            [
                'chats:convert', ['in' => $data, 'out' => $this->path('a-file').'/below', '--to' => 'ios'],
                'could not use',
            ],
            ['chats:inspect', ['path' => $data.'/pouch.db'], 'holds no messenger data'],
            ['chats:compare', ['left' => $data, 'right' => $this->path('there')], 'holds no messenger data'],
        ] as [$command, $input, $because]) {
            [$code, $output, $errors] = $this->execute($command, $input);
            self::assertSame([2, ''], [$code, $output], $command);
            self::assertStringContainsString($because, $errors);
            self::assertSame(1, substr_count($errors, "\n"), $errors);
        }
        self::assertFileDoesNotExist($this->path('new'));
    }

    /**
     * @param array<string, mixed> $input
     *
     * @return array{int, array<array-key, mixed>}
     */
    private function json(string $command, array $input): array
    {
        [$code, $output] = $this->execute($command, $input + ['--json' => true]);
        $data = json_decode($output, true, 64, \JSON_THROW_ON_ERROR);
        self::assertIsArray($data);

        return [$code, $data];
    }

    /**
     * @param array<string, mixed> $input
     *
     * @return array{int, string, string} exit code, output, error output
     */
    private function execute(string $command, array $input): array
    {
        $tester = new CommandTester((new Application(self::$kernel ?? self::bootKernel()))->find($command));
        $code = $tester->execute($input, ['capture_stderr_separately' => true]);

        return [$code, $tester->getDisplay(true), $tester->getErrorOutput(true)];
    }
}
