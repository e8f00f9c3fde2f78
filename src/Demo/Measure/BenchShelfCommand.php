<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

use Geschenk\App\Entity\User;
use Geschenk\Core\Files\ScratchFolder;
use Symfony\Component\Console\Attribute\AsCommand;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Input\InputInterface;
use Symfony\Component\Console\Input\InputOption;
use Symfony\Component\Console\Output\OutputInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;

/**
 * Times one poll of a shelf that is full, asked of a real server on a shop of its own. There are no phones and no
 * files: a page that wanted to read one would fail. The floor is the smallest answer that the same server gives to the
 * same user, who they are.
 */
#[AsCommand('bench:shelf', 'Measures a poll of a full shelf, as a multiple of the smallest answer of the same run')]
final class BenchShelfCommand extends Command
{
    public function __construct(#[Autowire('%kernel.project_dir%')] private readonly string $project)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('trays', null, InputOption::VALUE_REQUIRED, 'How many trays', '40')
            ->addOption('polls', null, InputOption::VALUE_REQUIRED, 'How many polls', '200');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $number = static fn (string $name): int => max(
            1, (int) filter_var($input->getOption($name), \FILTER_VALIDATE_INT),
        );
        $trays = $number('trays');
        $scratch = ScratchFolder::make();
        $environment = [
            'GESCHENK_DATA' => $scratch->path, 'APP_ENV' => 'demo', 'APP_DEBUG' => '0',
            'PATH' => (string) getenv('PATH'),
            'APP_SECRET' => bin2hex(random_bytes(16)),
        ];
        $migrate = [
            \PHP_BINARY, $this->project.'/bin/console', 'doctrine:migrations:migrate', '--no-interaction', '--quiet',
        ];
        $this->wait($this->start($migrate, $environment));
        $shop = new \SQLite3($scratch->path.'/shop.sqlite');
        $shop->enableExceptions(true);
        self::fill($shop, $trays);
        $shop->close();
        $socket = stream_socket_server('tcp://127.0.0.1:0') ?: throw new \RuntimeException('No port is free.');
        $address = (string) stream_socket_get_name($socket, false);
        fclose($socket);
        $public = $this->project.'/public';
        $server = $this->start(
            [
                \PHP_BINARY, '-d', 'variables_order=EGPCS', '-d', 'opcache.enable_cli=1', '-S', $address, '-t', $public,
                $public.'/router.php',
            ],
            $environment,
        );
        try {
            $browser = new BenchBrowser($address);
            $browser->signIn('bench', 'bench');
            $floor = $browser->times('/api/session', $number('polls'));
            $shelf = $browser->times('/api/trays', $number('polls'));
        } finally {
            proc_terminate($server);
            $this->wait($server);
        }
        $output->writeln(sprintf('%d trays, %d phones, %d polls', $trays, 2 * $trays, $number('polls')));
        foreach (['floor: who is there' => $floor, 'the shelf' => $shelf] as $name => $times) {
            $output->writeln(sprintf(
                '%-20s p50 %6.1f ms   p95 %6.1f ms   %5.2f x the floor', $name, self::share($times, 0.5),
                self::share($times, 0.95), self::share($times, 0.5) / self::share($floor, 0.5),
            ));
        }

        return Command::SUCCESS;
    }

    private static function fill(\SQLite3 $shop, int $trays): void
    {
        $role = User::TECHNICIAN;
        $hash = \SQLite3::escapeString(password_hash('bench', \PASSWORD_BCRYPT, ['cost' => 4]));
        $shop->exec(
            'INSERT INTO shop_user (username, display_name, role, password) '
                ."VALUES ('bench', 'Bench', '$role', '$hash')",
        );
        $seen = static fn (string $platform, string $number): string => \SQLite3::escapeString(json_encode([
            'maker' => 'Maker', 'model' => 'Model', 'platform' => $platform, 'os_version' => '1', 'plugged' => true,
            'unlocked' => true, 'battery' => 80, 'debugging' => 'android' === $platform
                ? true
                : null, 'admitted' => true,
            'free' => 9_000_000_000,
            'apps' => [['id' => 'otterpost', 'name' => 'Otterpost', 'version' => '7', 'number' => $number]],
        ], \JSON_THROW_ON_ERROR));
        $now = gmdate('Y-m-d H:i:s');
        $shop->exec('BEGIN');
        for ($n = 1; $n <= $trays; ++$n) {
            $number = sprintf('+4477009%05d', $n);
            $shop->exec(<<<SQL
                INSERT INTO tray (id, number, customer, contact, opened_at, opened_by, changed_at)
                    VALUES ($n, $n + 40, 'Customer $n', 'the quay', '$now', 'bench', '$now');
                INSERT INTO tray_phone (tray_id, serial, tag, role, held)
                    VALUES ($n, 'A$n', '$n-A', 'gives', 1), ($n, 'B$n', '$n-B', 'receives', 1);
                INSERT INTO move (id, tray_id, place, app, edition, choices)
                    VALUES ($n, $n, 1, 'otterpost', 'Otterpost', '[]');
                INSERT INTO phone (serial, seen, on_bench, seen_at)
                    VALUES ('A$n', '{$seen('android', $number)}', 1, '$now'), ('B$n', '{$seen('ios', $number)}', 1,
                        '$now');
                INSERT INTO holding (serial, app, mark, looked_at_mark, counts, trouble_params, tries)
                    SELECT serial, 'otterpost', 'm', 'm', '{"number":"$number","conversations":3,"messages":' ||
                        (serial LIKE 'A%') || ',"attachments":0,"attachment_bytes":0,"newest_at":null}', '[]', 0
                    FROM phone WHERE serial IN ('A$n', 'B$n');
                SQL);
            if (0 !== $n % 4) {
                // Backed up and converted, three of four; one of them is being restored.
                $state = 1 === $n % 4 ? 'working' : 'done';
                $kind = 'done' === $state ? 'conversion' : 'restore';
                $totals = '{"conversations":3,"messages":9,"arrived":9,"changed":0,"left_out":0,"missing":0,"extra":0,'
                    .'"settings_differing":0,"added":0,"added_missing":0,"account_differing":0,"conversations_extra":0,'
                    .'"complete":true}';
                $rehearsal = '{"choices":[],"judged_at":0,"backup":"b","platform":"ios","losses":[],'
                    .'"attachments_absent":0,"totals":'.$totals.'}';
                $shop->exec(<<<SQL
                    INSERT INTO backup VALUES ('backup-$n', $n, $n, 'A$n', 'otterpost', 'Otterpost', 'cable', '$now',
                        '$number', 3, 9, 0, 0, 0, NULL, 0);
                    INSERT INTO run (id, counter, move_id, kind, state, asked_at, asked_by, trouble_params, attempts,
                        phase, items_done, items_total, bytes_done, bytes_total, phase_started_at, bytes_before,
                        items_before, moved_at)
                        VALUES ('run-$n', $n, $n, '$kind', '$state', '$now', 'bench', '[]', 0, 'staging', 1, 9, 1, 9, 0,
                            0, 0, 0);
                    UPDATE move SET run_id = 'run-$n', backup_id = 'backup-$n', rehearsal = '$rehearsal'
                        WHERE id = $n;
                    SQL);
            }
        }
        $shop->exec('COMMIT');
    }

    /**
     * @param list<string>          $command
     * @param array<string, string> $environment
     *
     * @return resource
     */
    private function start(array $command, array $environment): mixed
    {
        $nowhere = ['file', '/dev/null', 'a'];
        $process = proc_open(
            $command, [['file', '/dev/null', 'r'], $nowhere, $nowhere], $pipes, $this->project, $environment,
        );

        return is_resource($process) ? $process : throw new \RuntimeException('No process could be started.');
    }

    /** @param resource $process */
    private function wait(mixed $process): void
    {
        while (proc_get_status($process)['running']) {
            usleep(20_000);
        }
        proc_close($process);
    }

    /** @param non-empty-list<float> $times */
    private static function share(array $times, float $share): float
    {
        sort($times);

        return $times[(int) floor($share * (count($times) - 1))] ?? 0.0;
    }
}
