<?php

declare(strict_types=1);

namespace Geschenk\App\Demo\Measure;

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
#[AsCommand('bench:shelf', 'Measures the pages that are polled, with a full shelf and conversions under way')]
final class BenchShelfCommand extends Command
{
    public function __construct(#[Autowire('%kernel.project_dir%')] private readonly string $project)
    {
        parent::__construct();
    }

    protected function configure(): void
    {
        $this->addOption('trays', null, InputOption::VALUE_REQUIRED, 'How many trays', '40')
            ->addOption('phones', null, InputOption::VALUE_REQUIRED, 'How many phones lie on the bench', '60')
            ->addOption('polls', null, InputOption::VALUE_REQUIRED, 'How many polls of each', '200')
            ->addOption('conversions', null, InputOption::VALUE_REQUIRED, 'How many run meanwhile', '2')
            ->addOption('json', null, InputOption::VALUE_NONE, 'Print JSON');
    }

    protected function execute(InputInterface $input, OutputInterface $output): int
    {
        $number = static fn (string $name, int $least = 1): int => max(
            $least, (int) filter_var($input->getOption($name), \FILTER_VALIDATE_INT),
        );
        $trays = $number('trays');
        $phones = $number('phones', 0);
        $shop = new ServedShop(
            $this->project, static fn (\SQLite3 $records) => self::fill($records, $trays, $phones),
        );
        try {
            for ($n = 0; $n < $number('conversions', 0); ++$n) {
                $shop->meanwhile(['bench:convert', '--messages=200000', '--rounds=99']);
            }
            $paths = [
                'session' => '/api/session', 'shelf' => '/api/trays', 'tray' => '/api/trays/41',
                'bench' => '/api/phones',
            ];
            $times = [];
            foreach ($paths as $name => $path) {
                $times[$name] = $shop->browser->times($path, $number('polls'));
            }
            $running = $shop->running();
        } finally {
            $shop->end();
        }
        if ($running < 1 + $number('conversions', 0)) {
            $output->writeln('The conversions ended before the polls did: nothing was measured.');

            return Command::FAILURE;
        }
        $this->say($input, $output, $times, ['trays' => $trays, 'phones' => $phones]);

        return Command::SUCCESS;
    }

    /**
     * @param array<string, non-empty-list<float>> $times ms, by page
     * @param array<string, int>                   $sizes
     */
    private function say(InputInterface $input, OutputInterface $output, array $times, array $sizes): void
    {
        if (true === $input->getOption('json')) {
            foreach ($times as $name => $of) {
                $sizes[$name.'_p95_ms'] = round(self::share($of, 0.95), 1);
            }
            $output->writeln(json_encode($sizes, \JSON_THROW_ON_ERROR));

            return;
        }
        $output->writeln(sprintf('%d trays, %d phones', $sizes['trays'], $sizes['phones']));
        foreach ($times as $name => $of) {
            $output->writeln(sprintf(
                '%-10s p50 %6.1f ms   p95 %6.1f ms   %5.2f x the floor, which is the session', $name,
                self::share($of, 0.5), self::share($of, 0.95),
                self::share($of, 0.5) / self::share($times['session'] ?? $of, 0.5),
            ));
        }
    }

    /** @param int $phones that lie on the bench; those of trays that are above that number are away */
    private static function fill(\SQLite3 $shop, int $trays, int $phones): void
    {
        $seen = static fn (string $platform, string $number): string => \SQLite3::escapeString(json_encode([
            'maker' => 'Maker', 'model' => 'Model', 'platform' => $platform, 'os_version' => '1', 'plugged' => true,
            'unlocked' => true, 'battery' => 80, 'debugging' => 'android' === $platform
                ? true
                : null, 'admitted' => true,
            'free' => 9_000_000_000,
            'apps' => [['id' => 'otterpost', 'name' => 'Otterpost', 'version' => '7', 'number' => $number]],
        ], \JSON_THROW_ON_ERROR));
        $now = gmdate('Y-m-d H:i:s');
        for ($n = 1; $n <= $trays; ++$n) {
            $number = sprintf('+4477009%05d', $n);
            $shop->exec(<<<SQL
                INSERT INTO customer (id, name, contact, language) VALUES ($n, 'Customer $n', 'the quay', 'en');
                INSERT INTO tray (id, number, customer_id, opened_at, opened_by, changed_at)
                    VALUES ($n, $n + 40, $n, '$now', 'bench', '$now');
                INSERT INTO tray_phone (tray_id, serial, tag, role, held)
                    VALUES ($n, 'A$n', '$n-A', 'gives', 1), ($n, 'B$n', '$n-B', 'receives', 1);
                INSERT INTO move (id, tray_id, place, app, edition) VALUES ($n, $n, 1, 'otterpost', 'Otterpost');
                INSERT INTO bringing (move_id, number, aim, choices, merges, names_wanted, keeps, eyes)
                    VALUES ($n, 1, 'whole', '[]', 0, 0, '[]', '[]');
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
                    .'"settings_differing":0,"added":0,"added_missing":0,"kept":0,"kept_missing":0,'
                    .'"account_differing":0,"conversations_extra":0,"complete":true}';
                $rehearsal = '{"choices":[],"judged_at":0,"backup":"b","platform":"ios","losses":[],'
                    .'"attachments_absent":0,"totals":'.$totals.'}';
                $shop->exec(<<<SQL
                    INSERT INTO backup (id, counter, tray_id, customer_id, serial, app, edition, way_in, taken_at,
                        account, conversations, messages, attachments, attachments_absent, attachment_bytes, newest_at,
                        lost)
                        VALUES ('backup-$n', $n, $n, $n, 'A$n', 'otterpost', 'Otterpost', 'cable', '$now', '$number',
                            3, 9, 0, 0, 0, NULL, 0);
                    INSERT INTO run (id, counter, move_id, kind, state, asked_at, asked_by, trouble_params, attempts,
                        phase, items_done, items_total, bytes_done, bytes_total, phase_started_at, bytes_before,
                        items_before, moved_at)
                        VALUES ('run-$n', $n, $n, '$kind', '$state', '$now', 'bench', '[]', 0, 'staging', 1, 9, 1, 9, 0,
                            0, 0, 0);
                    UPDATE move SET run_id = 'run-$n' WHERE id = $n;
                    UPDATE bringing SET backup_id = 'backup-$n', rehearsal = '$rehearsal' WHERE move_id = $n;
                    SQL);
            }
        }
        $shop->exec("UPDATE phone SET on_bench = 0 WHERE rowid > $phones");
        for ($n = 2 * $trays + 1; $n <= $phones; ++$n) {
            $shop->exec(<<<SQL
                INSERT INTO phone (serial, seen, on_bench, seen_at) VALUES ('C$n', '{$seen('ios', '+44')}', 1, '$now')
                SQL);
        }
    }

    /** @param non-empty-list<float> $times */
    private static function share(array $times, float $share): float
    {
        sort($times);

        return $times[(int) floor($share * (count($times) - 1))] ?? 0.0;
    }
}
